// Makes clock.json with the opening_hours package (npm, LGPL-3.0-only; a reference, not shipped), by its getState, which
// reads the clock on the wall:
//   TZ=America/Halifax node formats/openinghours/testdata/make-clock-vectors.mjs
// Two days around each change of the clocks, in minutes since the Unix epoch at which it opens or closes.
// Nights into the day of a change are left out: there getState steps back 24 hours over a day of 23 (see docs/decisions).
import { createRequire } from 'node:module'
import { writeFileSync } from 'node:fs'

const require = createRequire(new URL('../../../web/package.json', import.meta.url))
const OpeningHours = require('opening_hours')
const { version } = require('opening_hours/package.json')
if (process.env.TZ !== 'America/Halifax') throw new Error('set TZ=America/Halifax')
const texts = [
  '01:15-01:45', '02:15-02:45', '01:30-02:30', '00:00-03:00', '02:00-03:00', '01:00-02:00', '03:00-04:00', 'Su 00:30-03:30', 'Su 02:59-03:01', 'Su 01:59-02:01',
  'Mo-Fr 08:00-17:00', 'Su 01:10-01:20,02:10-02:20,03:10-03:20', 'Su 00:00-24:00', '24/7', 'Su off', 'Sa 20:00-24:00; Su 00:00-01:30', 'Mo 00:00-00:30',
]
const out = { madeWith: `opening_hours ${version}, node ${process.version}`, zone: process.env.TZ, windows: [] }
// 2026-11-01 and 2027-03-14 are Sundays on which the clocks of Halifax change.
for (const [from, to] of [['2026-11-01T00:00:00', '2026-11-03T00:00:00'], ['2027-03-14T00:00:00', '2027-03-16T00:00:00']].map((p) => p.map((s) => new Date(s) / 60000))) {
  const cases = texts.map((text) => {
    const oh = new OpeningHours(text, null)
    const turns = []
    let was = false
    for (let m = from; m < to; m++) {
      const is = oh.getState(new Date(m * 60000))
      if (is !== was) turns.push(m)
      was = is
    }
    return { text, turns }
  })
  out.windows.push({ from, to, cases })
}
writeFileSync(new URL('clock.json', import.meta.url), JSON.stringify(out, null, 0).replaceAll('{"text"', '\n{"text"') + '\n')
