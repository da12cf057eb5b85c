import type { Schemas } from '../../api/client'

type Entry = Schemas['Entry']

const isDoor = (e: Entry, id: number) => e.target.kind === 'door' && e.target.id === id

/** What a level says of a door itself, leaving out whole places. */
export const ofDoor = (entries: Entry[], id: number) => entries.filter((e) => isDoor(e, id))

/**
 * The entries with doors ticked or not. A door that was unticked and is ticked again has the schedules that it had;
 * one that is ticked for the first time has the given one. Nothing else changes, and none is listed twice.
 */
export function tick(
  entries: Entry[],
  doors: number[],
  on: boolean,
  schedule: number,
  had: Map<number, Entry[]>,
): Entry[] {
  const those = new Set(doors)
  if (!on) {
    for (const id of doors) {
      const mine = ofDoor(entries, id)
      if (mine.length) had.set(id, mine)
    }
    return entries.filter((e) => !(e.target.kind === 'door' && those.has(e.target.id!)))
  }
  const there = new Set(entries.flatMap((e) => (e.target.kind === 'door' ? [e.target.id!] : [])))
  return [
    ...entries,
    ...doors
      .filter((id) => !there.has(id))
      .flatMap((id) => had.get(id) ?? [{ target: { kind: 'door' as const, id }, scheduleId: schedule }]),
  ]
}

/** The schedule that most entries have; 0 where there is none. */
export function usualSchedule(entries: Entry[]): number {
  const counts = new Map<number, number>()
  for (const e of entries) counts.set(e.scheduleId, (counts.get(e.scheduleId) ?? 0) + 1)
  return [...counts].reduce((most, c) => (c[1] > most[1] ? c : most), [0, 0])[0]!
}
