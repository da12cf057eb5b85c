import { createRouter, createWebHistory, type RouteLocationNormalizedLoaded } from 'vue-router'

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

const doorSheet = () => import('./stations/build/DoorSheet.vue')

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/build' },
    { path: '/build', component: () => import('./stations/build/BuildHome.vue') },
    { path: '/build/controllers/:id(\\d+)', component: () => import('./stations/build/ControllerSheet.vue') },
    { path: '/build/doors/new', component: doorSheet },
    { path: '/build/doors/:id(\\d+)', component: doorSheet },
    { path: '/hours', component: () => import('./stations/hours/HoursHome.vue') },
    { path: '/hours/doors/:id(\\d+)', component: doorSheet },
    { path: '/hours/plans/:id(\\d+|new)', component: () => import('./stations/hours/PlanEditor.vue') },
    { path: '/hours/schedules/:id(\\d+|new)', component: () => import('./stations/hours/ScheduleEditor.vue') },
    { path: '/hours/holidays', component: () => import('./stations/hours/HolidaysView.vue') },
    { path: '/hours/holidays/load', component: () => import('./stations/hours/LoadHolidays.vue') },
    { path: '/hours/holidays/:id(\\d+|new)', component: () => import('./stations/hours/HolidaySheet.vue') },
    { path: '/hours/types/:id(\\d+|new)', component: () => import('./stations/hours/TypeSheet.vue') },
    { path: '/hours/changes', component: () => import('./stations/hours/ChangesView.vue') },
    { path: '/hours/changes/:id(\\d+|new)', component: () => import('./stations/hours/ChangeSheet.vue') },
    { path: '/hours/findings', component: () => import('./stations/hours/FindingsView.vue') },
    { path: '/people', component: () => import('./stations/people/PeopleHome.vue') },
    { path: '/people/:id(\\d+|new)', component: () => import('./stations/people/PersonSheet.vue') },
    { path: '/people/levels/:id(\\d+|new)', component: () => import('./stations/people/LevelSheet.vue') },
    { path: '/rules', component: () => import('./stations/rules/RulesHome.vue') },
    { path: '/send', component: () => import('./stations/send/SendHome.vue') },
    { path: '/prove', component: () => import('./stations/prove/ProveHome.vue') },
    { path: '/prove/:id(\\d+)', component: () => import('./stations/prove/BenchView.vue') },
    { path: '/watch', component: () => import('./stations/watch/WatchHome.vue') },
    { path: '/history', component: () => import('./stations/build/HistoryView.vue') },
    { path: '/:rest(.*)', component: () => import('./parts/NotHere.vue') },
  ],
})

/** Where a door is looked at from a station: the same door, another side of it. */
export function doorPath(station: string, id: number): string {
  if (station.startsWith('/prove')) return `/prove/${id}`
  if (station.startsWith('/watch')) return `/watch?door=${id}`
  if (station.startsWith('/hours')) return `/hours/doors/${id}`
  return `/build/doors/${id}`
}

/** The door that a page is about, or 0. */
export const doorOf = (route: RouteLocationNormalizedLoaded) => Number(route.query.door ?? (/doors|prove/.test(route.path) ? route.params.id : 0)) || 0

/** Where a station is entered: at the door that is being looked at, where the station shows doors; at its beginning from within it. */
export function stationPath(station: string, route: RouteLocationNormalizedLoaded): string {
  const door = doorOf(route)
  return door && !route.path.startsWith(station) && /build|hours|prove/.test(station) ? doorPath(station, door) : station
}

/** Where an object of a kind is looked at. */
export function placePath(kind: string, id: number, station = ''): string {
  const paths: Record<string, string> = {
    person: `/people/${id}`, level: `/people/levels/${id}`, schedule: `/hours/schedules/${id}`, plan: `/hours/plans/${id}`, holiday: `/hours/holidays/${id}`, 'holiday type': `/hours/types/${id}`,
    'dated change': `/hours/changes/${id}`, 'door set': '/hours/changes', settings: '/rules', controller: `/build/controllers/${id}`,
  }
  if (kind === 'door') return doorPath(station, id)
  return paths[kind] ?? '/build'
}
