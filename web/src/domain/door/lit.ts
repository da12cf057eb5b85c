import { onScopeDispose, reactive } from 'vue'
import { listen } from '../../core/live'

/** Doors at which somebody signals just now: a card presented, a button pressed, a leaf opened. Each for five seconds. */
export function useLit() {
  const lit = reactive(new Set<number>())
  const ends = new Map<number, ReturnType<typeof setTimeout>>()
  const stop = listen((n) => {
    const id = n.type === 'event' ? n.event.doorId : 0
    if (!id) return
    lit.add(id)
    clearTimeout(ends.get(id))
    ends.set(
      id,
      setTimeout(() => lit.delete(id), 5000),
    )
  })
  onScopeDispose(() => {
    stop()
    for (const t of ends.values()) clearTimeout(t)
  })
  return lit
}
