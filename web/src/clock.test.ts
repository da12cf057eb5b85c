import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { clock, clock24, hourMark, inClock, readTime, style } from './clock'
import { monthGrid } from './dates'
import { timeOf } from './words'

afterEach(() => (style.value = { twelveHour: false, fromSunday: false }))
const twelve = () => (style.value = { twelveHour: true, fromSunday: false })

describe('readTime', () => {
  it.each([
    ['18:30', 1110],
    ['8:05', 485],
    ['18.30', 1110],
    ['1830', 1110],
    ['7', 420],
    ['24:00', 1440],
    ['6:30 pm', 1110],
    ['6pm', 1080],
    ['6 p.m.', 1080],
    ['12 am', 0],
    ['12:15am', 15],
    ['12 pm', 720],
    ['noon', 720],
    ['midnight', 0],
  ] as [string, number][])('reads %s', (text, minute) => expect(readTime(text)).toBe(minute))
  it.each(['', '25:00', '24:01', '8:60', '13 pm', '0 am', 'soon', '8:5', '-1'])('does not read %s', (text) =>
    expect(readTime(text)).toBeUndefined(),
  )
  it('reads what is written, in both clocks', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1439 }), fc.boolean(), (m, twelveHour) => {
        style.value = { twelveHour, fromSunday: false }
        expect(readTime(clock(m))).toBe(m)
      }),
    )
  })
})

it('writes times as the site does', () => {
  expect([clock(0), clock(510), clock(1440), clock(1560)]).toEqual(['00:00', '08:30', '24:00', '02:00'])
  expect(timeOf(0, 'UTC')).toBe('00:00:00')
  twelve()
  expect([clock(0), clock(510), clock(720), clock(1110), clock(1440)]).toEqual([
    '12:00 am',
    '8:30 am',
    '12:00 pm',
    '6:30 pm',
    '12:00 am',
  ])
  expect(clock24(1110)).toBe('18:30')
  expect([0, 9, 12, 15, 24].map(hourMark)).toEqual(['12a', '9a', '12p', '3p', '12a'])
  expect(timeOf(18.5 * 3600_000, 'UTC')).toBe('6:30:00 pm')
})

it('turns the times of a sentence, and nothing else that has a colon', () => {
  const text = 'A card until **22:00**, at 127.0.0.1:27951; hash 3:4567; 2026-12-25 10:30:05.'
  expect(inClock(text)).toBe(text)
  twelve()
  expect(inClock(text)).toBe('A card until **10:00 pm**, at 127.0.0.1:27951; hash 3:4567; 2026-12-25 10:30:05 am.')
})

it('begins weeks on the day that the site chose', () => {
  expect(monthGrid('2026-11').weeks[0]![0]).toBe('2026-10-26')
  expect(monthGrid('2026-11', true).weeks[0]![0]).toBe('2026-11-01')
  expect(monthGrid('2026-11', true).weeks.at(-1)!.at(-1)).toBe('2026-12-05')
})
