import { useDebounceFn } from '@vueuse/core'
import { computed, watch, type Ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'

export type Terminal = Schemas['TerminalShown']
export type Board = Schemas['BoardShown']

/** The terminals of a controller, as they are now: asked again when it says that one of them says something else. */
export function useTerminals(id: Ref<number>) {
  const site = useSite()
  const query = useComputed(
    'terminals',
    () => [id.value],
    (signal) => ask(api.GET('/api/controllers/{id}/terminals', { params: { path: { id: id.value } }, signal })),
    () => id.value > 0,
  )
  const unit = computed(() => site.units.find((u) => u.id === id.value))
  const again = useDebounceFn(() => query.refetch(), 60)
  watch(
    () => [unit.value?.wires, unit.value?.online, unit.value?.mainsLost, unit.value?.batteryLow, unit.value?.lidOpen],
    () => void again(),
  )
  return { query, unit }
}

/** The rows of a board: its terminals by kind, in rows of at most eight. */
export function rowsOf(board: Board): { kind: string; title: string; list: Terminal[] }[] {
  const titles: Record<string, string> = { reader: 'Readers', input: 'Inputs', output: 'Outputs' }
  return ['reader', 'input', 'output']
    .map((kind) => ({ kind, title: titles[kind]!, list: board.terminals.filter((t) => t.kind === kind) }))
    .filter((r) => r.list.length)
}

/** What a terminal is for, in a word or two. */
export const roleWords = (t: Terminal) => (t.use ? t.use.role.charAt(0).toUpperCase() + t.use.role.slice(1) : 'free')
