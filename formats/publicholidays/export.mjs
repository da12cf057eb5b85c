// Makes regions.json.gz from the npm package date-holidays (data CC BY-SA 3.0, see LICENSE.md beside it).
// To refresh, once a year:
//   mkdir /tmp/holidays && cd /tmp/holidays && npm i date-holidays@3.37.0
//   node <this folder>/export.mjs
// Taken are days of type "public", and those of type "bank" that are substitutes.
import { createRequire } from 'node:module'
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'

const require = createRequire(process.cwd() + '/')
const Holidays = require('date-holidays')
const { version } = require('date-holidays/package.json')
const [first, last] = [2024, 2037]

const list = new Holidays()
const regions = []
function add(country, countryName, state, stateName, region, regionName) {
  const h = new Holidays(country, state, region)
  const days = new Set()
  for (let year = first; year <= last + 1; year++) {
    for (const d of h.getHolidays(year, 'en')) {
      if (d.type !== 'public' && !(d.type === 'bank' && d.substitute)) continue
      const date = d.date.slice(0, 10)
      if (+date.slice(0, 4) > last || +date.slice(0, 4) < first) continue
      const name = d.name.replace(/ \(substitute day\)$/, '').trim()
      // Several days are one entry in the source; its length counts in whole days, whatever the clocks do.
      const length = Math.max(1, Math.round((d.end - d.start) / 86400000))
      for (let i = 0; i < length; i++) {
        const t = new Date(date + 'T00:00:00Z')
        t.setUTCDate(t.getUTCDate() + i)
        days.add(`${t.toISOString().slice(0, 10)}${d.substitute ? '*' : ' '}${name}`)
      }
    }
  }
  regions.push({ code: [country, state, region].filter(Boolean).join('-'), name: [countryName, stateName, regionName].filter(Boolean).join(', '), days: [...days].sort() })
}
for (const [c, cn] of Object.entries(list.getCountries('en'))) {
  add(c, cn)
  for (const [s, sn] of Object.entries(list.getStates(c, 'en') ?? {})) {
    add(c, cn, s, sn)
    for (const [r, rn] of Object.entries(list.getRegions(c, s, 'en') ?? {})) add(c, cn, s, sn, r, rn)
  }
}
regions.sort((a, b) => (a.name < b.name ? -1 : 1))
const out = JSON.stringify({ madeWith: `date-holidays ${version}`, first, last, regions })
writeFileSync(new URL('regions.json.gz', import.meta.url), gzipSync(out, { level: 9 }))
console.log(regions.length, 'regions,', out.length, 'bytes')
