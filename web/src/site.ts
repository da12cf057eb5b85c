import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from './api/client'
import { calmly, connect, disconnect, listen } from './api/live'
import { isoDay } from './words'

/** Who is signed in, and the frame: places, counts, controllers, and the names of things. */
export const useSite = defineStore('site', () => {
  const session = ref<Schemas['Session']>()
  const overview = ref<Schemas['Overview']>()
  const units = ref<Schemas['Unit'][]>([])
  const version = ref(0) // grows whenever the configuration changes
  const skew = ref(0) // the server's clock less ours, ms
  let stop = () => {}

  const doors = computed(() =>
    (overview.value?.sites ?? []).flatMap((s) => s.floors.flatMap((f) => f.doors.map((d) => ({ ...d, floor: f.name, floorId: f.id, site: s.name, zone: s.zone })))),
  )
  const doorName = (id: number) => doors.value.find((d) => d.id === id)?.name ?? 'removed'

  /** Today's date at the first site, or at a door's. */
  const today = (door?: number) => isoDay(Date.now() + skew.value, doors.value.find((d) => d.id === door)?.zone ?? overview.value?.sites[0]?.zone ?? 'UTC')

  async function refresh() {
    const o = await ask(api.GET('/api/overview'))
    skew.value = o.now - Date.now()
    overview.value = o
  }
  async function refreshUnits() {
    units.value = await ask(api.GET('/api/units'))
  }

  const soon = calmly(() => Promise.all([refresh(), refreshUnits()]).catch(() => {}), 150) // a failed look is repeated with the next notice

  async function start() {
    session.value = await ask(api.GET('/api/session'))
    if (!session.value.name) return
    stop()
    stop = listen((n) => {
      if (n.type === 'config' || n.type === 'back') version.value++
      if (['config', 'units', 'minute', 'back', 'acknowledged'].includes(n.type) || n.event?.alarm) soon()
    })
    connect()
    await Promise.all([refresh(), refreshUnits()])
  }
  async function signOut() {
    await ask(api.POST('/api/sign-out'))
    disconnect()
    location.assign('/')
  }
  return { session, overview, units, version, skew, doors, doorName, today, refresh, refreshUnits, start, signOut }
})
