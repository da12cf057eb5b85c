import { nextTick } from 'vue'
import { createRouter, createWebHistory, type RouteLocationNormalized, type RouteRecordRaw } from 'vue-router'

/** The number of what a page is about; of a new thing 0. */
const numbered = (route: RouteLocationNormalized) => ({ id: route.params.id === 'new' ? 0 : Number(route.params.id) })
const sheet = (path: string, component: RouteRecordRaw['component'], props = numbered) =>
  ({ path, component, props, meta: { of: path } }) as RouteRecordRaw

const doorFrame = () => import('../domain/door/DoorFrame.vue')

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/build' },
    { path: '/build', component: () => import('../stations/build/BuildHome.vue') },
    { path: '/build/doors', component: () => import('../stations/build/DoorsHome.vue') },
    { path: '/build/first', component: () => import('../stations/first/FirstDoors.vue') },
    { path: '/build/terminals', component: () => import('../stations/build/TerminalsView.vue') },
    {
      path: '/build/findings',
      component: () => import('../stations/hours/FindingsView.vue'),
      props: { station: 'build' },
    },
    { path: '/build/formats', component: () => import('../stations/build/FormatsView.vue') },
    { path: '/build/power', component: () => import('../stations/build/PowerView.vue') },
    { path: '/build/schedule', component: () => import('../stations/build/ScheduleView.vue') },
    sheet('/build/sites/:id(\\d+)', () => import('../stations/build/SiteSheet.vue')),
    sheet('/build/controllers/:id(\\d+)', () => import('../stations/build/ControllerSheet.vue')),
    { path: '/build/elevators/new', component: () => import('../stations/build/NewElevator.vue') },
    sheet('/build/doors/:id(\\d+|new)', doorFrame, (r) => ({ ...numbered(r), station: 'build' })),
    { path: '/hours', component: () => import('../stations/hours/HoursHome.vue') },
    sheet('/hours/doors/:id(\\d+)', doorFrame, (r) => ({ ...numbered(r), station: 'hours' })),
    sheet('/hours/plans/:id(\\d+|new)', () => import('../stations/hours/PlanEditor.vue')),
    sheet('/hours/schedules/:id(\\d+|new)', () => import('../stations/hours/ScheduleEditor.vue')),
    { path: '/hours/holidays', component: () => import('../stations/hours/HolidaysView.vue') },
    { path: '/hours/holidays/load', component: () => import('../stations/hours/LoadHolidays.vue') },
    sheet('/hours/holidays/:id(\\d+|new)', () => import('../stations/hours/HolidaySheet.vue')),
    sheet('/hours/types/:id(\\d+|new)', () => import('../stations/hours/TypeSheet.vue')),
    { path: '/hours/changes', component: () => import('../stations/hours/ChangesView.vue') },
    sheet('/hours/changes/:id(\\d+|new)', () => import('../stations/hours/ChangeSheet.vue')),
    {
      path: '/hours/findings',
      component: () => import('../stations/hours/FindingsView.vue'),
      props: { station: 'hours' },
    },
    { path: '/people', component: () => import('../stations/people/PeopleHome.vue') },
    { path: '/people/levels', component: () => import('../stations/people/LevelsHome.vue') },
    { path: '/people/departments', component: () => import('../stations/people/DepartmentsHome.vue') },
    { path: '/people/cards', component: () => import('../stations/people/CardsView.vue') },
    { path: '/people/coming', component: () => import('../stations/people/ComingView.vue') },
    { path: '/people/import', component: () => import('../stations/people/ImportView.vue') },
    { path: '/people/compare', component: () => import('../stations/people/CompareView.vue') },
    {
      path: '/people/findings',
      component: () => import('../stations/hours/FindingsView.vue'),
      props: { station: 'people' },
    },
    sheet('/people/:id(\\d+|new)', () => import('../stations/people/PersonSheet.vue')),
    sheet('/people/levels/:id(\\d+|new)', () => import('../stations/people/LevelSheet.vue')),
    sheet('/people/departments/:id(\\d+|new)', () => import('../stations/people/DepartmentSheet.vue')),
    { path: '/rules', component: () => import('../stations/rules/RulesHome.vue') },
    { path: '/rules/hand', component: () => import('../stations/rules/HandView.vue') },
    { path: '/rules/keypads', component: () => import('../stations/rules/KeypadsView.vue') },
    {
      path: '/rules/findings',
      component: () => import('../stations/hours/FindingsView.vue'),
      props: { station: 'rules' },
    },
    sheet('/rules/doors/:id(\\d+)', doorFrame, (r) => ({ ...numbered(r), station: 'rules' })),
    sheet('/rules/proofs/:id(\\d+|new)', () => import('../stations/rules/ProofsSheet.vue')),
    sheet('/rules/interlocks/:id(\\d+|new)', () => import('../stations/rules/InterlockSheet.vue')),
    { path: '/rules/areas', component: () => import('../stations/rules/AreasView.vue') },
    sheet('/rules/areas/:id(\\d+|new)', () => import('../stations/rules/AreaSheet.vue')),
    { path: '/rules/screening', component: () => import('../stations/rules/ScreeningView.vue') },
    sheet('/rules/screening/:id(\\d+|new)', () => import('../stations/rules/ScreeningSheet.vue')),
    { path: '/rules/emergencies', component: () => import('../stations/rules/EmergenciesView.vue') },
    sheet('/rules/emergencies/:id(\\d+|new)', () => import('../stations/rules/EmergencySheet.vue')),
    { path: '/rules/alarm-areas', component: () => import('../stations/rules/AlarmAreasView.vue') },
    sheet('/rules/alarm-areas/:id(\\d+|new)', () => import('../stations/rules/AlarmAreaSheet.vue')),
    { path: '/rules/reactions', component: () => import('../stations/rules/ReactionsView.vue') },
    sheet('/rules/reactions/:id(\\d+|new)', () => import('../stations/rules/ReactionSheet.vue')),
    sheet('/rules/groups/:id(\\d+|new)', () => import('../stations/rules/GroupSheet.vue')),
    { path: '/send', component: () => import('../stations/send/SendHome.vue') },
    { path: '/send/sent', component: () => import('../stations/send/SentView.vue') },
    { path: '/prove', component: () => import('../stations/prove/ProveHome.vue') },
    { path: '/prove/matrix', component: () => import('../stations/prove/MatrixView.vue') },
    { path: '/prove/rights', component: () => import('../stations/prove/RightsView.vue') },
    sheet('/prove/:id(\\d+)', doorFrame, (r) => ({ ...numbered(r), station: 'prove' })),
    { path: '/watch', component: () => import('../stations/watch/WatchHome.vue') },
    { path: '/history', component: () => import('../stations/build/HistoryView.vue') },
    { path: '/:rest(.*)', component: () => import('./NotHere.vue') },
  ],
})

/**
 * What tells one page from another: its route and, of a sheet, the thing that it is about. A new thing is told by its
 * whole address, so that what it is begun with is never an earlier one's.
 */
export function viewKey(route: RouteLocationNormalized): string {
  const of = route.matched.at(-1)?.path ?? ''
  return route.params.id === 'new'
    ? route.fullPath
    : `${of.replace(/^\/(build|hours|rules|prove)\/(doors\/)?:id/, 'door :id')} ${String(route.params.id ?? '')}`
}

// A part that is not there any more belongs to a version that was replaced: the page is loaded anew, once.
router.onError((e: Error, to) => {
  if (!/dynamically imported module|Importing a module script failed|module script/i.test(e.message)) return
  const mark = 'loaded anew for'
  if (sessionStorage.getItem(mark) === to.fullPath) return
  sessionStorage.setItem(mark, to.fullPath)
  location.assign(to.fullPath)
})

// After going elsewhere the heading of the page has the focus, so that keys and voices begin there.
router.afterEach((to, from) => {
  sessionStorage.removeItem('loaded anew for')
  if (to.path === from.path || !from.matched.length) return
  void nextTick(() => {
    const focus = () => {
      const el = document.activeElement
      if (el && el !== document.body && el.closest('main')) return true // a field that wants it has it
      if (el?.closest('[data-keeps-focus]')) return true // who walks along a tree goes on there
      const heading = document.getElementById('page-title')
      heading?.focus({ preventScroll: true })
      return !!heading
    }
    if (!focus()) setTimeout(focus, 60)
  })
})
