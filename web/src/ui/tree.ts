import { computed, reactive, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { useSite } from '../core/site'
import type { Schemas } from '../api/client'

export type Row = {
  key: string
  kind: 'site' | 'floor' | 'door' | 'door set'
  id: number
  name: string
  depth: number
  /** The doors under it, or itself. */
  doors: number[]
  door?: Schemas['DoorPlace']
  parent?: string
  size: number
  place: number
}

type Floor = Schemas['FloorPlace']

/** The floors, with the elevators of all of them at the end: a car stands at no floor. */
function elevatorsLast(floors: Floor[]): Floor[] {
  const cars = floors.flatMap((f) => f.doors.filter((d) => d.elevator))
  if (!cars.length) return floors
  const rest = floors.map((f) => ({ ...f, doors: f.doors.filter((d) => !d.elevator) }))
  return [...rest, { id: -cars[0]!.id, name: 'Elevators', level: 0, doors: cars }]
}

/** The tree of places, site by site and the top floor first, as the rows that are to be seen. */
export function useTree(find: MaybeRefOrGetter<string>, sets: MaybeRefOrGetter<Schemas['DoorSet'][]> = []) {
  const site = useSite()
  const closed = reactive(new Set<string>())
  const text = computed(() => toValue(find).trim().toLowerCase())

  const all = computed(() =>
    (site.overview?.sites ?? []).map((s) => ({ ...s, floors: [...s.floors].sort((a, b) => b.level - a.level) })),
  )
  const rows = computed<Row[]>(() => {
    const out: Row[] = []
    const found = toValue(sets).filter((s) => s.name.toLowerCase().includes(text.value))
    found.forEach((s, i) =>
      out.push({
        key: `set ${s.id}`,
        kind: 'door set',
        id: s.id,
        name: s.name,
        depth: 1,
        doors: s.doorIds,
        size: found.length,
        place: i + 1,
      }),
    )
    for (const s of all.value) {
      const floors = elevatorsLast(s.floors)
        .map((f) => ({
          ...f,
          doors: text.value
            ? f.doors.filter((d) => `${d.name} ${f.name} ${s.name}`.toLowerCase().includes(text.value))
            : f.doors,
        }))
        .filter((f) => f.doors.length || !text.value)
      if (text.value && !floors.length) continue
      const key = `site ${s.id}`
      out.push({
        key,
        kind: 'site',
        id: s.id,
        name: s.name,
        depth: 1,
        doors: floors.flatMap((f) => f.doors.map((d) => d.id)),
        size: all.value.length,
        place: all.value.indexOf(s) + 1,
      })
      if (closed.has(key) && !text.value) continue
      floors.forEach((f, i) => {
        const floor = `floor ${f.id}`
        out.push({
          key: floor,
          kind: 'floor',
          id: f.id,
          name: f.name,
          depth: 2,
          doors: f.doors.map((d) => d.id),
          parent: key,
          size: floors.length,
          place: i + 1,
        })
        if (closed.has(floor) && !text.value) return
        f.doors.forEach((d, k) =>
          out.push({
            key: `door ${d.id}`,
            kind: 'door',
            id: d.id,
            name: d.name,
            depth: 3,
            doors: [d.id],
            door: d,
            parent: floor,
            size: f.doors.length,
            place: k + 1,
          }),
        )
      })
    }
    return out
  })

  const at = ref('')
  const index = computed(() =>
    Math.max(
      0,
      rows.value.findIndex((r) => r.key === at.value),
    ),
  )
  const isOpen = (r: Row) =>
    r.kind === 'door' || r.kind === 'door set' ? undefined : !closed.has(r.key) || !!text.value
  function toggle(r: Row, open = closed.has(r.key)) {
    if (r.kind === 'door' || r.kind === 'door set') return
    if (open) closed.delete(r.key)
    else closed.add(r.key)
  }
  /** Where a key leads, as trees have it (WAI-ARIA, tree view pattern); nothing where it is no key of a tree. */
  function go(key: string): Row | undefined {
    const list = rows.value
    const i = index.value
    const here = list[i]
    if (!here) return undefined
    let to: Row | undefined = here
    if (key === 'ArrowDown') to = list[i + 1] ?? here
    else if (key === 'ArrowUp') to = list[i - 1] ?? here
    else if (key === 'Home') to = list[0]
    else if (key === 'End') to = list.at(-1)
    else if (key === 'PageDown') to = list[Math.min(list.length - 1, i + 15)]
    else if (key === 'PageUp') to = list[Math.max(0, i - 15)]
    else if (key === 'ArrowRight') {
      if (isOpen(here) === false) toggle(here, true)
      else if (isOpen(here)) to = list[i + 1] ?? here
    } else if (key === 'ArrowLeft') {
      if (isOpen(here) && !text.value) toggle(here, false)
      else to = list.find((r) => r.key === here.parent) ?? here
    } else return undefined
    at.value = to!.key
    return to
  }
  return { rows, at, index, go, toggle, isOpen, closed }
}
