import { useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import { client, keys, touchesAll } from './query'

export type Changed = { kind?: string; id?: number; rev?: number }
export type Patch = {
  seq: number
  doors?: Schemas['DoorPlace'][]
  units?: Schemas['Unit'][]
  counts: Pick<Schemas['Overview'], 'lacking' | 'alarms' | 'found' | 'findings' | 'people' | 'rules' | 'build'>
}
export type Note =
  | { type: 'hello' | 'found' | 'back' }
  | { type: 'changed'; changes: Changed[] }
  | { type: 'state'; state: Patch }
  | { type: 'event'; event: Schemas['Event']; quiet?: boolean }
  | { type: 'acknowledged'; event: Schemas['Event'] }
  | { type: 'bench'; bench: Schemas['Bench'] }

type Ear = (note: Note) => void

const ears = new Set<Ear>()
let socket: WebSocket | undefined
let wanted = false
const benches = new Set<number>() // the doors that are played
let wait = 300
let met = false // a connection has stood before

/** Whether the live connection stands. */
export const connected = ref(true)

/** Hears every notice until the returned function is called. */
export function listen(ear: Ear): () => void {
  ears.add(ear)
  return () => ears.delete(ear)
}

const tellBenches = (s: WebSocket) => s.send(JSON.stringify({ benches: [...benches] }))

/** Says that a door is played, or no longer. */
export function playing(door: number, on: boolean) {
  if (on) benches.add(door)
  else benches.delete(door)
  if (socket?.readyState === WebSocket.OPEN) tellBenches(socket)
}

export const tell = (note: Note) => ears.forEach((ear) => ear(note))

let heard: () => void = () => {}
let hello = new Promise<void>((done) => (heard = done))

/** Done once the server tells this page what changes, so that what is read afterwards misses nothing. */
export const heardOf = () => Promise.race([hello, new Promise<void>((done) => setTimeout(done, 2000))])

export function connect() {
  wanted = true
  if (socket) return
  const s = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/live`)
  socket = s
  s.onmessage = (m) => {
    const note = JSON.parse(m.data as string) as Note
    if (note.type === 'hello') {
      wait = 300
      connected.value = true
      heard()
      if (benches.size) tellBenches(s)
      if (met) tell({ type: 'back' })
      met = true
    }
    tell(note)
  }
  s.onclose = () => {
    socket = undefined
    hello = new Promise<void>((done) => (heard = done))
    if (!wanted) return
    connected.value = false
    setTimeout(() => wanted && connect(), wait)
    wait = Math.min(wait * 2, 5000)
  }
}

export function disconnect() {
  wanted = false
  socket?.close()
}

/** Kinds whose change moves something in the tree of places. */
const places = new Set(['site', 'floor', 'door', 'controller', 'settings'])

/** Touches what a change of the configuration makes old, and nothing else. */
export function touched(changes: Changed[]) {
  if (changes.some((c) => !c.kind)) {
    void client.invalidateQueries()
    return
  }
  const whole = new Set(changes.filter((c) => !c.id).map((c) => c.kind!))
  for (const kind of whole) void client.invalidateQueries({ queryKey: ['object', kind] })
  if (whole.size) void client.invalidateQueries({ queryKey: ['name'] })
  for (const c of changes) {
    if (!c.id || whole.has(c.kind!)) continue
    const key = c.kind === 'settings' ? keys.settings : keys.object(c.kind!, c.id)
    const held = client.getQueryData<{ rev: number }>(key)
    if (held?.rev !== c.rev || !c.rev) void client.invalidateQueries({ queryKey: key })
    void client.invalidateQueries({ queryKey: keys.name(c.id) })
  }
  for (const kind of new Set(changes.map((c) => c.kind!))) {
    void client.invalidateQueries({ queryKey: keys.list(kind) })
    void client.invalidateQueries({ queryKey: keys.beside(kind) })
    if (places.has(kind)) void client.invalidateQueries({ queryKey: keys.overview })
  }
  soonComputed()
}

const computedSoon = useTimeoutFn(() => void client.invalidateQueries({ queryKey: touchesAll }), 120, {
  immediate: false,
})
/** What is worked out is asked for again once, however many changes come together. */
export function soonComputed() {
  if (!computedSoon.isPending.value) computedSoon.start()
}

listen((n) => {
  if (n.type === 'changed') touched(n.changes)
  if (n.type === 'back') void client.invalidateQueries()
})
