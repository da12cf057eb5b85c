import { computed, ref, type Ref } from 'vue'
import type { Schemas } from '../../api/client'
import { days } from '../../words'
import type { Line } from './painter'
import type { Piece, Row } from './week'

type Weekly = { week: Piece[][]; holidays?: { typeId: number; do: string; periods?: Piece[]; segments?: Piece[] }[] }

/** The rows of a painter: seven weekdays, then the holiday types; and which segment is chosen. */
export function useLines(
  draft: Ref<Weekly | undefined>,
  types: Ref<Schemas['HolidayType'][]>,
  rest: (t: Schemas['HolidayType']) => string,
  always: () => boolean,
) {
  const lines = computed<Line[]>(() => {
    const week = draft.value?.week ?? []
    const out: Line[] = days.map((name, d) => ({
      row: { day: d, typeId: 0 },
      label: name,
      pieces: week[d] ?? [],
      tail: (week[(d + 6) % 7] ?? []).filter((p) => p.end > 1440),
    }))
    if (always()) return out
    for (const t of types.value) {
      const h = draft.value?.holidays?.find((x) => x.typeId === t.id)
      const does = h?.do ?? rest(t)
      out.push({
        row: { day: 0, typeId: t.id },
        label: t.name,
        pieces: h?.do === 'own' ? (h.segments ?? h.periods ?? []) : [],
        tail: [],
        words: does === 'as weekday' ? 'as on the weekday' : undefined,
      })
    }
    return out
  })
  const answerOf = (typeId: number) => draft.value?.holidays?.find((x) => x.typeId === typeId)?.do ?? ''
  const at = ref(0)
  const chosen = ref<{ line: number; start: number }>()
  const piece = computed(() =>
    chosen.value ? lines.value[chosen.value.line]?.pieces.find((p) => p.start === chosen.value!.start) : undefined,
  )
  function choose(line: number, p?: Piece) {
    at.value = line
    chosen.value = p ? { line, start: p.start } : undefined
  }
  return { lines, answerOf, at, chosen, piece, choose }
}

export const rowOf = (r: Row): Row => ({ day: r.day, typeId: r.typeId })

/** The half hour in the middle of a piece, on whole five minutes, or as much as there is of it. */
export function middleOf(p: Piece) {
  const middle = Math.round((p.start + p.end) / 10) * 5
  const start = Math.max(p.start, middle - 15)
  return { start, end: start + Math.min(30, p.end - p.start) }
}
