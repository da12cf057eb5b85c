import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { listen, playing } from '../../core/live'
import { keys } from '../../core/query'

export type Bench = Schemas['Bench']
export type Hand = Schemas['BenchHand']

/** A door at the bench: what its controller does, and hands that act on it one after the other, however fast they come. */
export function useBench(id: number) {
  const held = useQueryClient()
  const path = { path: { id } }
  const key = keys.computed('bench', id)
  const query = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => ask(api.GET('/api/bench/{id}', { params: path, signal })),
    shallow: true,
  })
  const bench = computed(() => query.data.value as Bench | undefined)
  const took = (b: Bench) => held.setQueryData(key, b)
  const problem = ref('')
  let queue = Promise.resolve()
  // What turns something round looks at it when its turn comes.
  const play = (hand: Hand | (() => Hand)) =>
    (queue = queue.then(() => act(typeof hand === 'function' ? hand() : hand)))
  async function act(hand: Hand) {
    try {
      took(await ask(api.POST('/api/bench/{id}', { params: path, body: hand })))
      problem.value = ''
    } catch (e) {
      problem.value = (e as Error).message
    }
  }
  const leaf = () => play(() => ({ do: bench.value?.open ? 'close' : 'open' }))
  async function exit() {
    await play({ do: 'press' })
    await play({ do: 'release' })
  }
  const state = computed(() => ({
    released: bench.value?.released ?? false,
    open: bench.value?.open ?? false,
    alarm: bench.value?.alarm,
    shows: bench.value?.shows,
    readers: bench.value?.readers,
    dark: bench.value?.power === false,
  }))
  const stop = listen((n) => {
    if (n.type === 'bench' && n.bench.doorId === id) took(n.bench)
  })
  onMounted(() => playing(id, true))
  onBeforeUnmount(() => {
    stop()
    playing(id, false)
  })
  return { query, bench, problem, play, leaf, exit, state }
}
