import { QueryClient, useInfiniteQuery, useQuery, type QueryKey } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask, Trouble, type Schemas } from '../api/client'

/** What the server holds. It is asked once, and again when a notice says that it changed. */
export const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      gcTime: 10 * 60_000,
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      retry: (n, e) => n < 2 && !(e instanceof Trouble && e.status >= 400 && e.status < 500),
      retryDelay: (n) => 300 * 2 ** n,
    },
  },
})

/** The kinds of objects, as the API's notices and the history name them, and where each is asked for. */
export const kinds = {
  site: 'sites',
  floor: 'floors',
  controller: 'controllers',
  door: 'doors',
  input: 'inputs',
  output: 'outputs',
  supply: 'supplies',
  'holiday type': 'holiday-types',
  holiday: 'holidays',
  schedule: 'schedules',
  plan: 'plans',
  'door set': 'door-sets',
  'dated change': 'dated-changes',
  level: 'levels',
  department: 'departments',
  'free card': 'free-cards',
  person: 'people',
  interlock: 'interlocks',
  area: 'areas',
  group: 'groups',
  'several proofs': 'proofs',
  screening: 'screenings',
  emergency: 'emergencies',
  reaction: 'reactions',
  'alarm area': 'alarm-areas',
} as const

export type Kind = keyof typeof kinds
/** The kinds whose objects have names; a free card is told by its number. */
export type NamedKind = Exclude<Kind, 'free card'>

export type Objects = {
  site: Schemas['Site']
  floor: Schemas['Floor']
  controller: Schemas['Controller']
  door: Schemas['Door']
  input: Schemas['Input']
  output: Schemas['Output']
  supply: Schemas['Supply']
  'holiday type': Schemas['HolidayType']
  holiday: Schemas['Holiday']
  schedule: Schemas['Schedule']
  plan: Schemas['Plan']
  'door set': Schemas['DoorSet']
  'dated change': Schemas['DatedChange']
  level: Schemas['Level']
  department: Schemas['Department']
  'free card': Schemas['FreeCard']
  person: Schemas['Person']
  interlock: Schemas['Interlock']
  area: Schemas['Area']
  group: Schemas['Group']
  'several proofs': Schemas['Proofs']
  screening: Schemas['Screening']
  emergency: Schemas['Emergency']
  reaction: Schemas['Reaction']
  'alarm area': Schemas['AlarmArea']
}

export type Versioned<T> = { rev: number; value: T }
export type ListPage<T> = { total: number; next?: string; items: Versioned<T>[]; used: Record<string, number>[] }

/** What is asked of a list. */
export type ListParams = { q?: string; sort?: string; where?: string[]; limit?: number }

/** The one place where keys are made. What is worked out from the configuration stands under computed. */
export const keys = {
  overview: ['overview'] as QueryKey,
  settings: ['object', 'settings', 0] as QueryKey,
  object: (kind: string, id: number): QueryKey => ['object', kind, id],
  list: (kind: string, params?: ListParams): QueryKey => (params ? ['list', kind, params] : ['list', kind]),
  beside: (kind: string, id?: number, params?: ListParams): QueryKey =>
    id === undefined ? ['beside', kind] : ['beside', kind, id, params],
  name: (id: number): QueryKey => ['name', id],
  sessions: ['sessions'] as QueryKey,
  zones: ['zones'] as QueryKey,
  regions: (q: string): QueryKey => ['regions', q],
  computed: (what: string, ...of: unknown[]): QueryKey => ['computed', what, ...of],
}

/** What an answer depends on besides what it is about: every change touches it. */
export const touchesAll: QueryKey = ['computed']

type Get = (path: string, init: unknown) => Promise<{ data?: unknown; error?: unknown; response: Response }>
const get = api.GET as unknown as Get

/** Reads a page of a kind. The paths of all kinds take the same, so one cast serves them. */
export const fetchList = <K extends Kind>(kind: K, params: ListParams & { after?: string }, signal?: AbortSignal) =>
  ask(get(`/api/${kinds[kind]}`, { params: { query: params }, signal })) as Promise<ListPage<Objects[K]>>

/** Everything of a kind of which there are few, however many they turn out to be. */
export async function fetchAll<K extends Kind>(kind: K, signal?: AbortSignal): Promise<Versioned<Objects[K]>[]> {
  const out: Versioned<Objects[K]>[] = []
  let after: string | undefined
  do {
    const page: ListPage<Objects[K]> = await fetchList(kind, { limit: 500, ...(after ? { after } : {}) }, signal)
    out.push(...page.items)
    after = page.next
  } while (after)
  return out
}

/** All objects of a kind of which there are few: holiday types, door sets. */
export const useAll = <K extends Kind>(kind: K, on: MaybeRefOrGetter<boolean> = true) =>
  useQuery({
    queryKey: keys.list(kind),
    queryFn: ({ signal }) => fetchAll(kind, signal),
    enabled: computed(() => toValue(on)),
    shallow: true,
  })

export const fetchObject = <K extends Kind>(kind: K, id: number, signal?: AbortSignal) =>
  ask(get(`/api/${kinds[kind]}/{id}`, { params: { path: { id } }, signal })) as Promise<Versioned<Objects[K]>>

/** A list that is read on as far as it is looked at. */
export function useList<K extends Kind>(
  kind: MaybeRefOrGetter<K>,
  params: MaybeRefOrGetter<ListParams>,
  on: MaybeRefOrGetter<boolean> = true,
) {
  return useInfiniteQuery({
    queryKey: computed(() => keys.list(toValue(kind), { limit: 100, ...toValue(params) })),
    queryFn: ({ pageParam, signal }) =>
      fetchList(toValue(kind), { limit: 100, ...toValue(params), ...(pageParam ? { after: pageParam } : {}) }, signal),
    initialPageParam: '',
    getNextPageParam: (last) => last.next || undefined,
    placeholderData: (was: unknown) => was as never,
    enabled: computed(() => toValue(on)),
    shallow: true,
  })
}

/** One object with its revision. */
export function useObject<K extends Kind>(kind: K, id: MaybeRefOrGetter<number>, on: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: computed(() => keys.object(kind, toValue(id))),
    queryFn: ({ signal }) => fetchObject(kind, toValue(id), signal),
    enabled: computed(() => toValue(on) && toValue(id) > 0),
    shallow: true,
  })
}

/** An answer that the server works out; asked again after every change, while somebody looks at it. */
export function useComputed<T>(
  what: string,
  of: () => readonly unknown[],
  fetch: (signal: AbortSignal) => Promise<T>,
  on: MaybeRefOrGetter<boolean> = true,
) {
  return useQuery({
    queryKey: computed(() => keys.computed(what, ...of())),
    queryFn: ({ signal }) => fetch(signal),
    enabled: computed(() => toValue(on)),
    staleTime: 0, // it hangs on the hour and on what the doors say, too: who comes back to it has it asked again
    shallow: true,
  })
}
