import { useDebounceFn, useNow } from '@vueuse/core'
import { computed, onScopeDispose, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'

export type Floor = Schemas['FloorNow']

/** The floors of an elevator as they are now: asked again when its controller says something, and when a time is over. */
export function useShaft(id: () => number) {
  const site = useSite()
  const query = useComputed(
    'shaft',
    () => [id()],
    (signal) => ask(api.GET('/api/elevators/{id}', { params: { path: { id: id() } }, signal })),
    () => id() > 0,
  )
  const again = useDebounceFn(() => query.refetch(), 120)
  let timer = 0
  watch(query.data, (s) => {
    clearTimeout(timer)
    const times = (s?.floors ?? []).map((f) => f.until).filter((t) => t > 0)
    const wait = Math.min(...times) - (Date.now() + site.skew)
    if (times.length && wait < 3_600_000) timer = window.setTimeout(again, Math.max(300, wait + 250))
  })
  onScopeDispose(
    listen((n) => {
      if (n.type === 'event' && n.event.doorId === id()) void again()
      if (n.type === 'state' && n.state.doors?.some((d) => d.id === id())) void again()
    }),
  )
  onScopeDispose(() => clearTimeout(timer))
  const tick = useNow({ interval: 1000 })
  const now = computed(() => tick.value.getTime() + site.skew)
  return { query, shaft: computed(() => query.data.value), now }
}

/** The highest floor first, as it is drawn. */
export const fromTop = (floors: readonly Floor[]) => [...floors].reverse()

/** The number of a floor as it stands on a button. */
export const button = (level: number) => String(level).replace('-', '−')

/** What a floor does, with what is left of a release. */
export function floorWords(f: Floor, now: number): string {
  if ((f.why !== 'card' && f.why !== 'offered') || !f.until) return f.words
  return `${f.words} · ${Math.max(0, Math.ceil((f.until - now) / 1000))} s left`
}
