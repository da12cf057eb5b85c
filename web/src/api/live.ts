import { ref } from 'vue'
import type { Schemas } from './client'

type Note = { type: string; event?: Schemas['Event']; bench?: Schemas['Bench'] }
type Ear = (note: Note) => void

const ears = new Set<Ear>()
let socket: WebSocket | undefined
let wanted = false
let bench = 0
let wait = 300

/** Whether the live connection stands. */
export const connected = ref(true)

/** Hears every notice until the returned function is called. */
export function listen(ear: Ear): () => void {
  ears.add(ear)
  return () => ears.delete(ear)
}

/** Says which door is played; 0 is none. */
export function playing(door: number) {
  bench = door
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ bench }))
}

/** Calls what at most once in a while, and surely once after the last asking; cancel ends it. */
export function calmly(what: () => unknown, ms: number): (() => void) & { cancel: () => void } {
  let timer = 0
  const call = () => {
    if (timer) return
    timer = window.setTimeout(() => {
      timer = 0
      void what()
    }, ms)
  }
  return Object.assign(call, { cancel: () => clearTimeout(timer) })
}

export function connect() {
  wanted = true
  if (socket) return
  const s = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/live`)
  socket = s
  s.onopen = () => {
    wait = 300
    connected.value = true
    if (bench) s.send(JSON.stringify({ bench }))
    for (const ear of ears) ear({ type: 'back' })
  }
  s.onmessage = (m) => {
    const note = JSON.parse(m.data as string) as Note
    for (const ear of ears) ear(note)
  }
  s.onclose = () => {
    socket = undefined
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
