import { describe, expect, it } from 'vitest'
import { beginningFirst } from './beginningFirst'

const typed = (inputValue: string) => ({ inputValue, getOptionLabel: (name: string) => name })

describe('names that hold what is typed', () => {
  it('begin with it, before they have it within', () => {
    expect(beginningFirst(['Nepal', 'Palau', 'Palestine', 'Peru'], typed('pal'))).toEqual([
      'Palau',
      'Palestine',
      'Nepal',
    ])
  })
  it('are found without their accents', () => {
    expect(beginningFirst(['Niger', "Côte d'Ivoire"], typed('cote'))).toEqual(["Côte d'Ivoire"])
  })
  it('are all there while nothing is typed', () => {
    expect(beginningFirst(['Nepal', 'Palau'], typed(''))).toEqual(['Nepal', 'Palau'])
  })
})
