import { computed, ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../../api/client'
import { days } from '../../words'
import type { Line } from './WeekPainter.vue'
import type { Piece, Row, Stroke } from './week'
import { sure } from '../../parts/sure'

type Weekly = { week: Piece[][]; holidays?: { typeId: number; do: string; periods?: Piece[]; segments?: Piece[] }[] }

/** The rows of a painter: seven weekdays, then the holiday types; and which segment is chosen. */
export function useLines(draft: Ref<Weekly | undefined>, types: Ref<Schemas['HolidayType'][]>, rest: (t: Schemas['HolidayType']) => string, always: () => boolean) {
  const lines = computed<Line[]>(() => {
    const week = draft.value?.week ?? []
    const out: Line[] = days.map((name, d) => ({ row: { day: d, typeId: 0 }, label: name, pieces: week[d] ?? [], tail: (week[(d + 6) % 7] ?? []).filter((p) => p.end > 1440) }))
    if (always()) return out
    for (const t of types.value) {
      const h = draft.value?.holidays?.find((x) => x.typeId === t.id)
      const does = h?.do ?? rest(t)
      out.push({ row: { day: 0, typeId: t.id }, label: t.name, pieces: h?.do === 'own' ? (h.segments ?? h.periods ?? []) : [], tail: [], words: does === 'as weekday' ? 'as on the weekday' : undefined })
    }
    return out
  })
  const answerOf = (typeId: number) => draft.value?.holidays?.find((x) => x.typeId === typeId)?.do ?? ''
  const at = ref(0)
  const chosen = ref<{ line: number; start: number }>()
  const piece = computed(() => (chosen.value ? lines.value[chosen.value.line]?.pieces.find((p) => p.start === chosen.value!.start) : undefined))
  function choose(line: number, p?: Piece) {
    at.value = line
    chosen.value = p ? { line, start: p.start } : undefined
  }
  return { lines, answerOf, at, chosen, piece, choose }
}

/** Saving, discarding and removing, which plans and schedules share. */
export function useSheet(o: {
  id: number; base: string; copied: Ref<{ value: { id: number; name: string } } | undefined>; unread: Ref<string>; problem: Ref<string>
  save: () => Promise<boolean>; discard: () => void; leave: (to: string) => void; show: (s: Stroke) => void; remove: () => Promise<unknown>
}) {
  const router = useRouter()
  async function save() {
    if (o.unread.value) {
      o.problem.value = 'The typed hours are not understood yet; mend or undo them first.'
      return
    }
    if ((await o.save()) && !o.id) void router.replace(`${o.base}/${o.copied.value!.value.id}`)
  }
  function discard() {
    if (!o.id) return o.leave('/hours')
    o.discard()
    o.show({ do: 'show' })
  }
  async function remove() {
    if (!(await sure(`Remove ${o.copied.value!.value.name}?`, 'History can bring it back.', 'Remove it'))) return
    try {
      await o.remove()
      o.leave('/hours')
    } catch (e) {
      o.problem.value = (e as Error).message
    }
  }
  const duplicate = () => void router.push(`${o.base}/new?copy=${o.id}`)
  return { save, discard, remove, duplicate }
}

export const rowOf = (r: Row): Row => ({ day: r.day, typeId: r.typeId })
