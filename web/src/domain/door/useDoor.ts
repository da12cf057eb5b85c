import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fields as said } from '../../api/fields'
import { listen } from '../../core/live'
import { same } from '../../core/merge'
import { useNames } from '../../core/names'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useSite } from '../../core/site'

type Door = Schemas['Door']

/** A door: its sheet, what its controller says of it, and what decides there at the moment that is looked at. */
export function useDoor(id: number) {
  const site = useSite()
  const route = useRoute()
  const router = useRouter()
  const edit = useSheet<Door>({
    kind: 'door',
    id,
    name: (d) => d.name,
    load: async (signal) =>
      id
        ? fetchObject('door', id, signal)
        : {
            rev: 0,
            value: await ask(
              api.GET('/api/usual-door', {
                params: { query: { controller: Number(route.query.controller ?? 0) } },
                signal,
              }),
            ),
          },
    store: (value, rev) =>
      id
        ? ask(api.PUT('/api/doors/{id}', { params: { path: { id } }, body: { rev, value } }))
        : ask(api.POST('/api/doors', { body: value })),
    added: (v) => void (!id && router.replace(`/build/doors/${v.value.id}?added=1`)),
  })

  const week = ref(String(route.query.date ?? ''))
  const moment = ref('')
  const looked = useComputed(
    'door sheet',
    () => [id, week.value, moment.value],
    (signal) =>
      ask(
        api.GET('/api/doors/{id}/sheet', {
          params: { path: { id }, query: { week: week.value, at: moment.value } },
          signal,
        }),
      ),
    () => id > 0,
  )
  const sheet = ref<Schemas['Sheet']>()
  watch(looked.data, (s) => s && (sheet.value = s), { immediate: true })
  // What decides is asked for again when the door says something; its state itself comes with the patches.
  const again = useDebounceFn(() => looked.refetch(), 150)
  onScopeDispose(
    listen((n) => {
      if (n.type === 'event' && n.event.doorId === id) void again()
      if (n.type === 'state' && n.state.doors?.some((d) => d.id === id)) void again()
    }),
  )

  const here = computed(() => site.door(id))
  const stored = computed(() => edit.stored.value?.value)
  const { nameOf } = useNames(() =>
    [stored.value, edit.draft.value].flatMap((d) => (d ? [d.planId, d.controllerId, d.floorId] : [])),
  )
  const changes = computed(() => {
    const [a, b] = [stored.value, edit.draft.value] as unknown as Record<string, unknown>[]
    if (!id || !a || !b) return []
    return Object.keys({ ...a, ...b })
      .filter((k) => !same(a[k], b[k]))
      .map((k) => ({ what: said[`Door.${k}`]?.title ?? k, was: words(k, a[k]), is: words(k, b[k]) }))
  })
  function words(k: string, v: unknown): string {
    if (/Id$/.test(k)) return nameOf(v as number)
    if (k === 'in' || k === 'out') {
      const r = v as Schemas['Reader']
      return r.fitted ? ['card', ...(r.takes ?? [])].join(', ') + (r.keypad ? ' and keypad' : '') : 'none'
    }
    if (k === 'firstCard' && v) return Object.values(v as object).join(' ')
    if (typeof v === 'boolean') return v ? 'yes' : 'no'
    if (v === undefined || v === '') return 'nothing'
    return `${String(v)}${said[`Door.${k}`]?.unit ? ` ${said[`Door.${k}`]!.unit}` : ''}`
  }
  return { edit, sheet, looked, week, moment, here, nameOf, changes }
}

export type DoorHere = ReturnType<typeof useDoor>
