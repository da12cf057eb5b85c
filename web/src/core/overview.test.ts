import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import type { Patch } from './live'
import { patched } from './overview'

const door = (id: number, open = false): Schemas['DoorPlace'] => ({
  id,
  name: `D${id}`,
  mode: 'card',
  waits: false,
  live: true,
  open,
  alarm: '',
  offline: false,
  outOfUse: false,
  order: 0,
})
const overview = (): Schemas['Overview'] => ({
  name: 'X',
  now: 0,
  seq: 5,
  demo: false,
  zoneData: '',
  rules: 0,
  units: [],
  lacking: 0,
  alarms: 0,
  found: 0,
  findings: 0,
  people: 0,
  build: 0,
  guard: '',
  armed: 0,
  intrusion: false,
  sites: [1, 2].map((s) => ({
    id: s,
    name: `S${s}`,
    zone: 'UTC',
    twelveHour: false,
    fromSunday: false,
    floors: [{ id: 10 + s, name: 'F', level: 0, doors: [door(100 * s), door(100 * s + 1)] }],
  })),
})
const counts = { lacking: 0, alarms: 1, found: 0, findings: 0, people: 0, rules: 0, build: 0 }

describe('a patch of the live state', () => {
  it('makes anew only what it names', () => {
    const o = overview()
    const p = patched(o, { seq: 6, doors: [door(100, true)], counts })
    expect(p.sites[0]!.floors[0]!.doors[0]!.open).toBe(true)
    expect(p.sites[1]).toBe(o.sites[1])
    expect(p.sites[0]!.floors[0]!.doors[1]).toBe(o.sites[0]!.floors[0]!.doors[1])
    expect(p.alarms).toBe(1)
  })
  it('that is in the overview already changes nothing', () => {
    const o = overview()
    expect(patched(o, { seq: 5, doors: [door(100, true)], counts })).toBe(o)
  })
  it('leaves the state as the last ones say, however often and late they come', () => {
    const patches = fc.array(fc.record({ id: fc.constantFrom(100, 101, 200), open: fc.boolean() }), {
      minLength: 1,
      maxLength: 12,
    })
    fc.assert(
      fc.property(patches, fc.nat(11), (list, again) => {
        const told: Patch[] = list.map((x, i) => ({ seq: 6 + i, doors: [door(x.id, x.open)], counts }))
        const once = told.reduce(patched, overview())
        expect(patched(once, told[Math.min(again, told.length - 1)]!)).toBe(once)
        for (const id of [100, 101, 200]) {
          const last = list.findLast((x) => x.id === id)
          const there = once.sites.flatMap((s) => s.floors.flatMap((f) => f.doors)).find((d) => d.id === id)!
          expect(there.open).toBe(last?.open ?? false)
        }
      }),
    )
  })
})
