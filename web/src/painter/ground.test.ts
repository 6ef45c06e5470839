import { describe, expect, it } from 'vitest'
import { crossing, edgeLabels, type GraticuleLine, type Seen } from './ground'

const SEEN: Seen = { center: [0, 0], resolution: 10, width: 200, height: 100, ratio: 1 }
const meridian = (...paths: number[][][]): GraticuleLine => ({ kind: 'meridian', name: '0°', paths })
const parallel = (...paths: number[][][]): GraticuleLine => ({ kind: 'parallel', name: '50° N', paths })

describe('where a line meets the edge', () => {
  it('is where a meridian runs out below', () => {
    expect(crossing(meridian([[500, 2000], [500, -2000]]), SEEN)).toBe(150)
    expect(crossing(meridian([[0, 0], [400, -1000]]), SEEN)).toBe(120)
  }) // prettier-ignore

  it('is where a parallel comes in at the left', () => {
    expect(crossing(parallel([[-5000, 250], [5000, 250]]), SEEN)).toBe(25)
  }) // prettier-ignore

  it('is nowhere for what is not seen, or ends before', () => {
    expect(crossing(meridian([[5000, 2000], [5000, -2000]]), SEEN)).toBeNull()
    expect(crossing(parallel([[-500, 0], [500, 0]]), SEEN)).toBeNull()
    expect(crossing(meridian(), SEEN)).toBeNull()
  }) // prettier-ignore

  it('may be in a later piece', () => {
    expect(crossing(meridian([[0, 500], [0, 100]], [[-500, 0], [-500, -900]]), SEEN)).toBe(50)
  }) // prettier-ignore
})

describe('where the globe ends within the picture', () => {
  it('parallels are written to the left of their end, meridians below theirs', () => {
    const lines = [
      parallel([
        [-400, 100],
        [400, 100],
      ]),
      meridian([
        [50, 200],
        [50, -200],
      ]),
    ]
    expect(edgeLabels(lines, SEEN).map(({ edge, x, y }) => [edge, x, y])).toEqual([
      ['beside', 60, 40],
      ['under', 105, 70],
    ])
  })

  it('meridians that end at a pole have nothing there', () => {
    const lines = [
      meridian([
        [0, 0],
        [50, 200],
      ]),
      meridian([
        [0, 0],
        [-50, 200],
      ]),
    ]
    expect(edgeLabels(lines, SEEN)).toEqual([])
  })
})
