import { useQueries } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { keys } from './query'

type Place = Schemas['Place']
type Waiting = { id: number; done: (p: Place | null) => void; failed: (e: unknown) => void }

let waiting: Waiting[] = []

/** The names that are wanted in one moment are asked for at once. */
function fetchName(id: number): Promise<Place | null> {
  return new Promise((done, failed) => {
    waiting.push({ id, done, failed })
    if (waiting.length > 1) return
    setTimeout(async () => {
      const batch = waiting
      waiting = []
      for (let i = 0; i < batch.length; i += 500) {
        const part = batch.slice(i, i + 500)
        try {
          const found = await ask(api.GET('/api/names', { params: { query: { ids: part.map((w) => w.id) } } }))
          const byId = new Map(found.map((p) => [p.id, p]))
          for (const w of part) w.done(byId.get(w.id) ?? null)
        } catch (e) {
          for (const w of part) w.failed(e)
        }
      }
    }, 5)
  })
}

/** The names of objects by their numbers, as they come in; a removed one is told as that. */
export function useNames(ids: MaybeRefOrGetter<readonly number[]>) {
  const wanted = computed(() => [...new Set(toValue(ids))].filter((id) => id > 0))
  const queries = useQueries({
    queries: computed(() => wanted.value.map((id) => ({ queryKey: keys.name(id), queryFn: () => fetchName(id) }))),
    shallow: true,
  })
  const names = computed(() => {
    const out = new Map<number, Place | null>()
    wanted.value.forEach((id, i) => {
      const data = queries.value[i]?.data
      if (data !== undefined) out.set(id, data)
    })
    return out
  })
  const nameOf = (id: number) => {
    const place = names.value.get(id)
    return place === undefined ? '…' : (place?.name ?? 'removed')
  }
  return { names, nameOf }
}
