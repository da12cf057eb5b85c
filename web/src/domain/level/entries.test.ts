import { expect, it } from 'vitest'
import { ofDoor, tick, usualSchedule } from './entries'
import type { Schemas } from '../../api/client'

type Entry = Schemas['Entry']
const at = (id: number, scheduleId: number): Entry => ({ target: { kind: 'door', id }, scheduleId })
const site: Entry = { target: { kind: 'site', id: 5 }, scheduleId: 9 }

it('gives a door that is ticked again the schedules that it had', () => {
  const had = new Map<number, Entry[]>()
  const before = [at(1, 7), at(1, 8), at(2, 7), site]
  const without = tick(before, [1], false, 3, had)
  expect(without).toEqual([at(2, 7), site])
  expect(ofDoor(tick(without, [1], true, 3, had), 1)).toEqual([at(1, 7), at(1, 8)])
})

it('ticks a floor without touching what was chosen there', () => {
  const all = tick([at(1, 7)], [1, 2, 3], true, 3, new Map())
  expect(all).toEqual([at(1, 7), at(2, 3), at(3, 3)])
})

it('leaves whole places alone', () => {
  expect(tick([site, at(1, 7)], [1], false, 3, new Map())).toEqual([site])
})

it('chooses places with the schedule that most entries have', () => {
  expect(usualSchedule([])).toBe(0)
  expect(usualSchedule([at(1, 7), at(2, 8), at(3, 8), site])).toBe(8)
  expect(usualSchedule([at(1, 7), at(2, 8)])).toBe(7)
})
