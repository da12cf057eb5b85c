import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'
import type { ListParams } from './query'

const one = (v: unknown) => (Array.isArray(v) ? String(v[0] ?? '') : typeof v === 'string' ? v : '')

/** A value that stands in the address, so that Back and a link bring it again; what it is at first is left out. */
export function useAddress(name: string, first = '') {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => one(route.query[name]) || first,
    set: (v: string) =>
      void router.replace({ query: put(route.query as LocationQueryRaw, name, v === first ? '' : v) }),
  })
}

function put(query: LocationQueryRaw, name: string, v: string | string[]): LocationQueryRaw {
  const out = { ...query }
  if (v.length) out[name] = v
  else delete out[name]
  return out
}

/** What is asked of a list, in the address: text, order and conditions. */
export function useListAddress() {
  const route = useRoute()
  const router = useRouter()
  const sort = useAddress('sort')
  const where = computed({
    get: () => ([] as unknown[]).concat(route.query.where ?? []).map(String),
    set: (v: string[]) => void router.replace({ query: put(route.query as LocationQueryRaw, 'where', v) }),
  })
  const inAddress = useAddress('q')
  const q = ref(inAddress.value)
  const write = useDebounceFn((v: string) => (inAddress.value = v.trim()), 150)
  watch(q, write)
  watch(inAddress, (v) => {
    if (v !== q.value.trim()) q.value = v
  })
  const condition = (column: string) =>
    computed({
      get: () => where.value.find((w) => w.startsWith(`${column}=`))?.slice(column.length + 1) ?? '',
      set: (v: string) => {
        const others = where.value.filter((w) => !w.startsWith(`${column}=`))
        where.value = v ? [...others, `${column}=${v}`] : others
      },
    })
  const params = computed<ListParams>(() => listParams(route.query))
  const filtered = computed(() => !!params.value.q || !!params.value.where?.length)
  return { q, sort, where, condition, params, filtered }
}

/** The part of an address that says what a list holds, for the sheets that are opened from it. */
export function listParams(query: Record<string, unknown>): ListParams {
  const where = ([] as unknown[]).concat(query.where ?? []).map(String)
  return {
    ...(one(query.q) ? { q: one(query.q) } : {}),
    ...(one(query.sort) ? { sort: one(query.sort) } : {}),
    ...(where.length ? { where } : {}),
  }
}
