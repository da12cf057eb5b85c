import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../core/site'

/** A controller of the first doors: found, or in service without doors. */
export type Box = {
  serial: string
  model: string
  ports: number
  on: boolean
  name: string
  place: string
  /** Its number once it is in service. */
  id: number
  code?: string
  shows?: string
}
export type NewDoor = {
  serial: string
  port: number
  name: string
  floor: string
  out: boolean
  swapped: boolean
  id: number
}
export type NewCard = { format: string; value: string; name: string; at: number; id: number }

/** All that first doors are told before anything is done, kept while the page is open. */
export type First = {
  step: number
  site: string
  siteId: number
  zone: string
  boxes: Box[]
  doors: NewDoor[]
  when: 'always' | 'hours'
  schedule: Schemas['Schedule']
  scheduleId: number
  levelId: number
  cards: NewCard[]
}

const blank = (): First => ({
  step: 0,
  site: 'Main building',
  siteId: 0,
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  boxes: [],
  doors: [],
  when: 'always',
  schedule: { id: 0, name: 'First hours', week: Array.from({ length: 7 }, () => []) },
  scheduleId: 0,
  levelId: 0,
  cards: [],
})

export const steps = ['Which controllers', 'Doors', 'When', 'Who', 'Look and begin'] as const

/** First doors: what was said so far, and the doing of it, one thing after another. */
export function useFirst() {
  const site = useSite()
  const first = useSessionStorage<First>('first doors', blank())
  const doing = ref('')
  const problem = ref('')
  const done = ref<string[]>([])
  const busy = computed(() => doing.value !== '')

  const boxes = computed(() => first.value.boxes.filter((b) => b.on))
  const doors = computed(() =>
    first.value.doors.filter((d) => d.name.trim() && boxes.value.some((b) => b.serial === d.serial)),
  )
  const people = computed(() => first.value.cards.filter((c) => c.name.trim()))
  const forget = () => (first.value = blank())

  /** Takes over what was found; what is not there any more goes. */
  function found(list: Schemas['Found'][]) {
    const idle = (serial: string) => list.find((f) => f.serial === serial)
    const f = first.value
    f.boxes = f.boxes.filter((b) => b.id || idle(b.serial))
    for (const x of list) {
      const bare = x.state === 'here' && !x.forgotten && !x.fault
      if ((x.state !== 'new' && !bare) || x.fault || f.boxes.some((b) => b.serial === x.serial)) continue
      const unit = bare ? site.units.find((u) => u.name === x.name) : undefined
      if (bare && (!unit || site.doors.length)) continue // only those that have no doors yet
      f.boxes.push({
        serial: x.serial,
        model: x.model,
        ports: x.ports,
        on: true,
        name: x.name || `Controller ${x.serial.replace(/^\D+/, '')}`,
        place: '',
        id: unit?.id ?? 0,
      })
    }
    for (const b of f.boxes)
      for (let port = 1; port <= b.ports; port++)
        if (!f.doors.some((d) => d.serial === b.serial && d.port === port))
          f.doors.push({ serial: b.serial, port, name: '', floor: 'Level 0', out: false, swapped: false, id: 0 })
  }

  /** Agrees on keys with the controllers that are not in service yet, so that the codes can be compared. */
  async function agree() {
    problem.value = ''
    for (const b of boxes.value.filter((x) => !x.id && !x.code)) {
      doing.value = `Agreeing on a key with ${b.serial}`
      try {
        const c = await ask(
          api.POST('/api/found/{serial}/take-into-service', { params: { path: { serial: b.serial } }, body: how(b) }),
        )
        b.code = c.code
        b.shows = c.shows
      } catch (e) {
        problem.value = `${b.serial}: ${(e as Error).message}`
      }
    }
    doing.value = ''
  }
  const how = (b: Box): Schemas['Adoption'] => ({
    name: b.name,
    place: b.place,
    siteId: first.value.siteId,
    site: first.value.siteId ? '' : first.value.site,
    zone: first.value.zone,
  })

  /** Does everything; what is done already is not done again, so that it can go on after trouble. */
  async function begin(): Promise<number | undefined> {
    problem.value = ''
    done.value = []
    try {
      for (const b of boxes.value.filter((x) => !x.id)) await take(b)
      const floors = await makeFloors()
      for (const d of doors.value.filter((x) => !x.id)) await makeDoor(d, floors)
      await makeLevel()
      for (const c of people.value.filter((x) => !x.id)) await makePerson(c)
      doing.value = 'Sending'
      await ask(api.POST('/api/send', { body: { controllers: boxes.value.map((b) => b.id) } }))
      say('Sent to ' + boxes.value.map((b) => b.name).join(', '))
      return doors.value[0]?.id
    } catch (e) {
      problem.value = `${doing.value}: ${(e as Error).message}`
      return undefined
    } finally {
      doing.value = ''
    }
  }
  const say = (words: string) => done.value.push(words)

  async function take(b: Box) {
    doing.value = `Taking ${b.name} into service`
    const c = await ask(
      api.POST('/api/found/{serial}/confirm', {
        params: { path: { serial: b.serial } },
        body: { ...how(b), code: b.code ?? '' },
      }),
    )
    b.id = c.value.id
    first.value.siteId = c.value.siteId
    say(`${b.name} is in service`)
  }
  async function makeFloors() {
    doing.value = 'Making floors'
    const out = new Map<string, number>()
    const there = await ask(api.GET('/api/floors', { params: { query: { limit: 1000 } } }))
    for (const f of there.items) if (f.value.siteId === first.value.siteId) out.set(f.value.name, f.value.id)
    for (const name of [...new Set(doors.value.map((d) => d.floor.trim() || 'Level 0'))])
      if (!out.has(name)) {
        const level = Number(/-?\d+/.exec(name.replace('−', '-'))?.[0] ?? out.size)
        const v = await ask(api.POST('/api/floors', { body: { id: 0, name, siteId: first.value.siteId, level } }))
        out.set(name, v.value.id)
        say(`Floor ${name}`)
      }
    return out
  }
  async function makeDoor(d: NewDoor, floors: Map<string, number>) {
    doing.value = `Making ${d.name}`
    const box = boxes.value.find((b) => b.serial === d.serial)!
    const usual = await ask(api.GET('/api/usual-door', { params: { query: { controller: box.id } } }))
    const [a, b] = [`r${2 * d.port - 1}`, `r${2 * d.port}`]
    const v = await ask(
      api.POST('/api/doors', {
        body: {
          ...usual,
          name: d.name.trim(),
          floorId: floors.get(d.floor.trim() || 'Level 0')!,
          port: d.port,
          out: { fitted: d.out, keypad: false },
          ...(d.swapped ? { points: { in: b, ...(d.out ? { out: a } : {}) } } : {}),
        },
      }),
    )
    d.id = v.value.id
    say(`Door ${d.name}`)
  }
  async function makeLevel() {
    const f = first.value
    const all = await ask(api.GET('/api/schedules', { params: { query: { limit: 1000 } } }))
    let schedule = all.items.find((s) => s.value.fixed && s.value.name === 'Always')!.value.id
    if (f.when === 'hours') {
      doing.value = 'Making the hours'
      f.scheduleId ||= (await ask(api.POST('/api/schedules', { body: f.schedule }))).value.id
      schedule = f.scheduleId
      say(`Schedule ${f.schedule.name}`)
    }
    if (f.levelId || !people.value.length) return
    doing.value = 'Making the access level'
    const body = {
      id: 0,
      name: 'Everybody, everywhere',
      entries: [{ target: { kind: 'everything' as const }, scheduleId: schedule }],
    }
    f.levelId = (await ask(api.POST('/api/levels', { body }))).value.id
    say('Access level Everybody, everywhere')
  }
  async function makePerson(c: NewCard) {
    doing.value = `Adding ${c.name}`
    const v = await ask(
      api.POST('/api/people', {
        body: {
          id: 0,
          name: c.name.trim(),
          departmentIds: [],
          suspended: false,
          extendedTime: false,
          alwaysPin: false,
          credentials: [{ kind: 'card', format: c.format, value: c.value, status: 'active' }],
          levels: [{ levelId: first.value.levelId }],
        },
      }),
    )
    c.id = v.value.id
    say(c.name)
  }
  return { first, boxes, doors, people, found, agree, begin, forget, doing, busy, problem, done }
}

export type FirstDoors = ReturnType<typeof useFirst>
