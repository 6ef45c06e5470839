// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { begunParts } from '../api/forTests'
import { AT_HOME } from './useFrame'
import { reachOfHand } from './useMapLabels'

describe('a label that is put somewhere by hand', () => {
  it.each([3, 9, 12, 12.3, 12.99])('stays there at level %s, and not at the next one farther away', (zoom) => {
    const { frame } = AT_HOME
    const level = Math.floor(zoom)
    const reach = reachOfHand(AT_HOME, zoom, begunParts().gestures.reach_of_hand)
    expect(reach).toBeGreaterThan(frame.scale(frame.resolution(level)) * 1.2)
    expect(reach).toBeLessThan(frame.scale(frame.resolution(level - 1)) * 0.9)
  })
})
