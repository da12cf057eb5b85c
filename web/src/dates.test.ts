import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, monthGrid, readDay, readDays, wordedDay } from './dates'

const today = '2026-11-26' // a Thursday

describe('readDay', () => {
  it.each([
    ['2026-12-25', '2026-12-25'],
    ['2026-1-5', '2026-01-05'],
    ['25.12.2027', '2027-12-25'],
    ['25/12', '2026-12-25'],
    ['1.3', '2027-03-01'], // the next one
    ['27 Nov', '2026-11-27'],
    ['5 march 2028', '2028-03-05'],
    ['today', today],
    ['tomorrow', '2026-11-27'],
    ['fri', '2026-11-27'],
    ['Thursday', '2026-12-03'],
    ['+7', '2026-12-03'],
  ] as [string, string][])('reads %s', (text, day) => expect(readDay(text, today)).toBe(day))

  it.each(['', '2026-02-30', '31.4.2026', 'soon', '25.13.2026', '12', 'x-y'])('does not read %s', (text) =>
    expect(readDay(text, today)).toBeUndefined(),
  )

  it('reads what it writes, for every day', () => {
    fc.assert(
      fc.property(fc.integer({ min: -400_000, max: 400_000 }), (n) => {
        const day = addDays('2000-01-01', n)
        expect(readDay(day, today)).toBe(day)
        expect(addDays(addDays(day, 1), -1)).toBe(day)
      }),
    )
  })
})

it('lays a month out in whole weeks from Monday', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1990, max: 2090 }), fc.integer({ min: 1, max: 12 }), (y, m) => {
      const month = `${y}-${String(m).padStart(2, '0')}`
      const { weeks } = monthGrid(month)
      const inside = weeks.flat().filter((d) => d.startsWith(month))
      expect(inside).toHaveLength(new Date(Date.UTC(y, m, 0)).getUTCDate())
      for (const w of weeks) expect(new Date(`${w[0]}T00:00:00Z`).getUTCDay()).toBe(1)
      expect(weeks[0]!.some((d) => d.startsWith(month))).toBe(true)
      expect(weeks.at(-1)!.some((d) => d.startsWith(month))).toBe(true)
    }),
  )
})

it('words a day', () => {
  expect(wordedDay('2026-11-27')).toBe('Fri 27 Nov 2026')
  expect(wordedDay('soon')).toBe('')
})

describe('readDays', () => {
  it.each([
    ['2026-12-25, 2027-12-25', ['2026-12-25', '2027-12-25']],
    ['2026-12-25 2027-12-25\n25 Dec 2028;1 jan', ['2026-12-25', '2027-12-25', '2028-12-25', '2027-01-01']],
    [' ,; ', []],
    ['2026-12-25, soon', ['2026-12-25', 'soon']],
    ['2026-12-25 2026-02-31', ['2026-12-25', '2026-02-31']],
  ] as [string, string[]][])('reads %j', (text, days) => expect(readDays(text, today)).toEqual(days))
})
