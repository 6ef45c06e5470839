import { describe, expect, it } from 'vitest'
import { addressOf, nothingSaid, saidIn } from './address'
import { placeFrom } from './place'
import { language, number, speak, word } from './words'

describe('what a reader has chosen', () => {
  const said = {
    ...nothingSaid(),
    ranges: { 'wells.depth': [-1.5, 40] as [number, number] },
    choices: { 'wells.kind': ['fen & bog', ''] },
    off: { carbon: ['no-data'] },
    hidden: ['relief'],
    without: ['title', 'key'],
    time: Date.UTC(2024, 7, 1) / 1000,
    near: { lon: -27.1, lat: 52.04, metres: 5000 },
  }

  it('stands in the address behind the view, and is read from it', () => {
    const address = addressOf({ zoom: 9.5, lat: 52, lon: -27 }, said)
    expect(placeFrom(address)).toEqual({ zoom: 9.5, lat: 52, lon: -27 })
    expect(saidIn(address)).toEqual(said)
    expect(addressOf({ zoom: 4, x: 1, y: 2 }, nothingSaid())).toBe('#4@1,2')
  })

  it('is nothing where the address makes no sense', () => {
    expect(saidIn('#9/52/-27?without=credits&time=soon&near=here&wells.depth=a..b&x')).toEqual(nothingSaid())
    expect(saidIn('')).toEqual(nothingSaid())
  })
})

describe('the page’s words', () => {
  it('are those of the edition, where it has them', () => {
    expect(word('within', { n: 1234, distance: '5', unit: 'km' })).toBe('1,234 within 5 km')
    speak({ within: '{n} im Umkreis von {distance} {unit}' }, 'de')
    expect(word('within', { n: 1234, distance: '5', unit: 'km' })).toBe('1.234 im Umkreis von 5 km')
    expect([word('close'), number(0.5), language]).toEqual(['Close', '0,5', 'de'])
    speak({}, 'en')
  })
})
