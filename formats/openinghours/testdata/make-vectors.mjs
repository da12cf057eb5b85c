// Makes vectors.json with the opening_hours package (npm, LGPL-3.0-only; a reference, not shipped):
//   npm install --no-save --prefix web opening_hours@3.15 && TZ=UTC node formats/openinghours/testdata/make-vectors.mjs
// Two weeks from Monday 2026-06-01, minutes from its midnight; no clock change and no holiday is in them.
import { createRequire } from 'node:module'
import { writeFileSync } from 'node:fs'

const require = createRequire(new URL('../../../web/package.json', import.meta.url))
const OpeningHours = require('opening_hours')
const { version } = require('opening_hours/package.json')
const texts = [
  'Mo-Fr 08:30-17:00; Sa 10:00-16:00', '24/7', 'off', 'Mo 08:00-12:00,13:00-17:00', 'Mo-Su 22:00-06:00', 'Sa,Su 10:00-16:00', 'Fr-Mo 09:00-10:00',
  'Mo-Fr 08:00-18:00; We off', 'Mo-Fr 08:00-18:00; We 10:00-12:00', 'Mo-Fr 08:00-12:00, We 14:00-16:00', 'Mo-Su 00:00-24:00', '08:00-10:00',
  'Mo 00:00-00:01', 'Su 23:59-24:00', 'Tu-Th,Sa-Su 10:00-17:00', 'Mo-Fr 20:00-02:00', 'Fr 22:00-26:00', 'Mo-Fr 08:00-12:00, Mo-Fr 11:00-14:00',
  'Mo,We,Fr 06:00-07:30; Tu 12:00-12:15', 'Sa 10:00-24:00; Su 00:00-10:00', 'Mo-Su 08:00-20:00; Su off', 'Mo-Fr 08:30-17:00 open', 'Mo-Fr 09:00-17:00; Sa-Su closed',
  'Su 22:00-04:00', 'Mo-Sa 07:05-19:35', 'Th 00:00-12:00,18:00-24:00', 'mo-fr 08:00-09:00',
]
// Texts at random, the same each time, without nights: any of 1 to 4 rules of days and times, replacing (;) or adding (,).
let seed = 20261125
const dice = (n) => { seed = (seed * 1103515245 + 12345) % 2147483648; return Math.floor((seed / 2147483648) * n) }
const names = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su']
const time = (m) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`
function rule() {
  const day = () => { const a = dice(7); return dice(2) ? names[a] : `${names[a]}-${names[dice(7)]}` }
  const days = Array.from({ length: 1 + dice(2) }, day).join(',')
  if (!dice(6)) return `${days} off`
  const span = () => { const a = dice(1435); return `${time(a)}-${time(a + 1 + dice(1440 - a))}` }
  return `${days} ${Array.from({ length: 1 + dice(2) }, span).join(',')}`
}
for (let i = 0; i < 150; i++) {
  let text = rule()
  for (let k = dice(4); k > 0; k--) {
    const next = rule()
    text += (dice(2) || next.endsWith('off') ? '; ' : ', ') + next
  }
  texts.push(text)
}
// Here the package ends a night where another day's rule begins; ours lets it run on (design 3.1).
const other = ['Fr 22:00-06:00; Sa 10:00-16:00', 'Mo-Su 22:00-06:00; We off']
const begin = new Date('2026-06-01T00:00:00')
const end = new Date('2026-06-15T00:00:00')
const vector = (text) => ({
  text,
  open: new OpeningHours(text, null).getOpenIntervals(begin, end).map(([a, b]) => [(a - begin) / 60000, (b - begin) / 60000]),
})
const out = { madeWith: `opening_hours ${version}, node ${process.version}`, same: texts.map(vector), differs: other.map(vector) }

// Holidays: a fortnight with two of Portugal's; the days that the package took as such are listed.
const from = new Date('2026-04-20T00:00:00')
const until = new Date('2026-05-04T00:00:00')
const place = { lat: 0, lon: 0, address: { country_code: 'pt', state: '' } }
const intervals = (text) => new OpeningHours(text, place).getOpenIntervals(from, until)
const withHolidays = (text) => ({ text, open: intervals(text).map(([a, b]) => [(a - from) / 60000, (b - from) / 60000]) })
const same = ['Mo-Fr 08:30-17:00; PH off', 'Mo-Su 10:00-18:00; PH 10:00-14:00', 'Mo-Fr 08:00-12:00,13:00-17:00; Sa 09:00-12:00; PH 09:00-10:00,11:00-12:00', '24/7; PH off', 'Mo-Fr,PH 08:00-09:00', 'Sa,PH 07:00-08:00']
// Nights beside a holiday: the package cuts them at midnight, or leaves a morning without its evening.
const differs = ['Th 22:00-06:00; PH off', 'Fr 22:00-06:00; PH off', 'Mo-Sa 22:00-06:00; PH 22:00-02:00']
const holidays = { from: '2026-04-20', holidays: intervals('PH 00:00-24:00').map(([a]) => new Date(a - a.getTimezoneOffset() * 60000).toISOString().slice(0, 10)), same: same.map(withHolidays), differs: differs.map(withHolidays) }
writeFileSync(new URL('holidays.json', import.meta.url), JSON.stringify(holidays, null, 0).replaceAll('{"text"', '\n{"text"') + '\n')
writeFileSync(new URL('vectors.json', import.meta.url), JSON.stringify(out, null, 0).replaceAll('{"text"', '\n{"text"') + '\n')
