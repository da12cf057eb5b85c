import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useConsequence } from '../../parts/consequence'
import { useUndo } from './undo'

export type Row = Schemas['Row']
export type Piece = { start: number; end: number; mode?: string; first?: boolean; levels?: number[] }
type Weekly = { id: number; week: Piece[][]; holidays?: { typeId: number; do: string }[] }
export type Stroke = Omit<Schemas['PlanEdit'], 'plan'> & Partial<Pick<Schemas['ScheduleEdit'], 'open'>>
type Shown<T> = { value: T; text: string }

/**
 * A plan or a schedule under edit: strokes and typed text go to the server one after the other, which answers with
 * both forms; undo and redo over whole states; the consequence follows a moment later.
 */
export function useWeek<T extends Weekly>(
  draft: Ref<T | undefined>, stored: Ref<{ rev: number } | undefined>, dirty: Ref<boolean>, problem: Ref<string>,
  send: (value: T, stroke: Stroke) => Promise<Shown<T>>, consequence: (value: T) => Schemas['Edit'],
) {
  const text = ref('')
  const unread = ref('')
  const effect = useConsequence(() => (draft.value?.id && dirty.value ? consequence(draft.value) : undefined))
  const history = useUndo(() => draft.value!, (s) => { draft.value = s; void stroke({ do: 'show' }) })

  let queue = Promise.resolve()
  /** One stroke; strokes wait for each other, so that none is lost. */
  function stroke(s: Stroke): Promise<void> {
    if (s.do !== 'show' && s.do !== 'text') history.mark()
    queue = queue.then(async () => {
      if (!draft.value) return
      try {
        const shown = await send(draft.value, s)
        draft.value = { ...shown.value, id: draft.value.id }
        unread.value = ''
        if (s.do !== 'text') text.value = shown.text
      } catch (e) {
        if (s.do === 'text') unread.value = (e as Error).message
        else problem.value = (e as Error).message
      }
    })
    return queue
  }
  let timer = 0
  let marked = false
  function typed() {
    if (!marked) history.mark()
    marked = true
    clearTimeout(timer)
    timer = window.setTimeout(() => { marked = false; void stroke({ do: 'text', text: text.value }) }, 180)
  }
  watch(() => stored.value?.rev, () => { if (draft.value) void stroke({ do: 'show' }) })

  onBeforeUnmount(() => clearTimeout(timer))
  return { text, unread, effect, history, stroke, typed }
}
