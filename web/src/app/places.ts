import type { RouteLocationNormalizedLoaded } from 'vue-router'

/** The stations in the order of the work. */
export const stations = [
  { n: 1, name: 'Build', path: '/build' },
  { n: 2, name: 'Hours', path: '/hours' },
  { n: 3, name: 'People', path: '/people' },
  { n: 4, name: 'Rules', path: '/rules' },
  { n: 5, name: 'Send', path: '/send' },
  { n: 6, name: 'Prove', path: '/prove' },
  { n: 7, name: 'Watch', path: '/watch' },
] as const

/** Where a door is looked at from a station: the same door, another side of it. */
export function doorPath(station: string, id: number): string {
  if (station.startsWith('/prove')) return `/prove/${id}`
  if (station.startsWith('/watch')) return `/watch?door=${id}`
  if (station.startsWith('/hours')) return `/hours/doors/${id}`
  if (station.startsWith('/rules')) return `/rules/doors/${id}`
  return `/build/doors/${id}`
}

/** The door that a page is about, or 0. */
export const doorOf = (route: RouteLocationNormalizedLoaded) =>
  Number(route.query.door ?? (/doors|prove/.test(route.path) ? route.params.id : 0)) || 0

/**
 * Where a station is entered: at the door that is being looked at, where the station shows doors; at its beginning
 * from within it.
 */
export function stationPath(station: string, route: RouteLocationNormalizedLoaded): string {
  const door = doorOf(route)
  return door && !route.path.startsWith(station) && /build|hours|rules|prove|watch/.test(station)
    ? doorPath(station, door)
    : station
}

/** Where an object of a kind is looked at. */
export function placePath(kind: string, id: number, station = ''): string {
  const paths: Record<string, string> = {
    person: `/people/${id}`,
    level: `/people/levels/${id}`,
    department: `/people/departments/${id}`,
    'free card': '/people/cards',
    schedule: `/hours/schedules/${id}`,
    plan: `/hours/plans/${id}`,
    holiday: `/hours/holidays/${id}`,
    'holiday type': `/hours/types/${id}`,
    'dated change': `/hours/changes/${id}`,
    'door set': '/hours/changes',
    settings: '/rules/keypads',
    interlock: `/rules/interlocks/${id}`,
    area: `/rules/areas/${id}`,
    group: `/rules/groups/${id}`,
    'several proofs': `/rules/proofs/${id}`,
    screening: `/rules/screening/${id}`,
    emergency: `/rules/emergencies/${id}`,
    reaction: `/rules/reactions/${id}`,
    'alarm area': `/rules/alarm-areas/${id}`,
    site: `/build/sites/${id}`,
    floor: `/build/doors?where=floorId%3D${id}`,
    controller: `/build/controllers/${id}`,
    input: `/build/terminals?named=${id}`,
    output: `/build/terminals?named=${id}`,
    supply: '/build/power',
  }
  if (kind === 'door') return doorPath(station, id)
  return paths[kind] ?? '/build'
}
