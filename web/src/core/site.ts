import { QueryObserver } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { isoDay } from '../words'
import { connect, disconnect, heardOf, listen, type Patch } from './live'
import { patched } from './overview'
import { client, keys } from './query'
import { forgetDrafts } from './drafts'

export type DoorHere = Schemas['DoorPlace'] & {
  floor: string
  floorId: number
  site: string
  siteId: number
  zone: string
}

/** Who is signed in, and the frame: places with what their doors ask now, controllers, and what waits. */
export const useSite = defineStore('site', () => {
  const session = ref<Schemas['Session']>()
  const overview = shallowRef<Schemas['Overview']>()
  const problem = ref('')
  const skew = ref(0) // the server's clock less ours, ms
  /** The session has ended while this page was open: what is on it stays, under the sign-in. */
  const ended = ref(false)
  let early: Patch[] = [] // patches that came while the overview was on its way
  let stop = () => {}

  const doors = computed<DoorHere[]>(() =>
    (overview.value?.sites ?? []).flatMap((s) =>
      s.floors.flatMap((f) =>
        f.doors.map((d) => ({ ...d, floor: f.name, floorId: f.id, site: s.name, siteId: s.id, zone: s.zone })),
      ),
    ),
  )
  const byId = computed(() => new Map(doors.value.map((d) => [d.id, d])))
  const door = (id: number) => byId.value.get(id)
  const doorName = (id: number) => door(id)?.name ?? 'removed'
  const units = computed(() => overview.value?.units ?? [])
  const zone = computed(() => overview.value?.sites[0]?.zone ?? 'UTC')

  /** The words for where an access level leads. Door sets are named where they are at hand. */
  function placeWords(t: Schemas['Target'], setName: (id: number) => string = () => 'a door set') {
    const sites = overview.value?.sites ?? []
    switch (t.kind) {
      case 'everything':
      case 'elevator floors':
        return t.kind
      case 'site':
        return sites.find((s) => s.id === t.id)?.name ?? 'removed'
      case 'floor': {
        const s = sites.find((x) => x.floors.some((f) => f.id === t.id))
        return s ? `${s.name}, ${s.floors.find((f) => f.id === t.id)!.name}` : 'removed'
      }
      case 'door set':
        return setName(t.id!)
      case 'reader':
        return `${doorName(t.id!)}, reader ${t.out ? 'out' : 'in'}`
    }
    return doorName(t.id!)
  }

  /** A floor's name with its site's, where there are several. */
  function floorWords(id: number, name: string) {
    const sites = overview.value?.sites ?? []
    const s = sites.length > 1 && sites.find((x) => x.floors.some((f) => f.id === id))
    return s ? `${s.name}, ${name}` : name
  }

  /** Adds a floor to a site, above those that it has; its number. */
  async function addFloor(siteId: number, name: string) {
    const floors = overview.value?.sites.find((s) => s.id === siteId)?.floors ?? []
    const level = Math.max(-1, ...floors.map((f) => f.level)) + 1
    return (await ask(api.POST('/api/floors', { body: { id: 0, name, siteId, level } }))).value.id
  }

  /** Today's date at the first site, or at a door's. */
  const today = (id?: number) => isoDay(Date.now() + skew.value, (id && door(id)?.zone) || zone.value)

  const observer = new QueryObserver<Schemas['Overview']>(client, {
    queryKey: keys.overview,
    enabled: false,
    queryFn: async ({ signal }) => {
      await heardOf()
      const o = await ask(api.GET('/api/overview', { signal }))
      skew.value = o.now - Date.now()
      const all = early.reduce(patched, o)
      early = []
      return all
    },
  })
  function apply(p: Patch) {
    const o = client.getQueryData<Schemas['Overview']>(keys.overview)
    if (!o || client.isFetching({ queryKey: keys.overview })) early.push(p)
    if (o) client.setQueryData(keys.overview, patched(o, p))
  }

  async function start() {
    session.value = await ask(api.GET('/api/session'))
    if (!session.value.name) return
    stop()
    const still = observer.subscribe((r) => {
      if (r.data) overview.value = r.data
      problem.value = !r.data && r.error ? r.error.message : ''
    })
    const deaf = listen((n) => n.type === 'state' && apply(n.state))
    stop = () => (still(), deaf())
    connect()
    observer.setOptions({ ...observer.options, enabled: true })
    await observer.refetch()
    if (observer.getCurrentResult().error) throw observer.getCurrentResult().error
  }
  /** Somebody has signed in again over the page: everything that failed is asked again. */
  async function entered() {
    ended.value = false
    if (!overview.value) return start()
    session.value = await ask(api.GET('/api/session'))
    disconnect()
    connect()
    void client.invalidateQueries()
  }
  async function signOut() {
    await ask(api.POST('/api/sign-out'))
    forgetDrafts()
    disconnect()
    location.assign('/')
  }
  return {
    session,
    overview,
    units,
    problem,
    skew,
    ended,
    doors,
    door,
    doorName,
    placeWords,
    floorWords,
    addFloor,
    zone,
    today,
    start,
    entered,
    signOut,
  }
})
