import { onScopeDispose, ref, watch, type Ref } from 'vue'
import type { Schemas } from '../../api/client'
import { same } from '../../core/merge'
import { useConsequence } from '../../ui/consequence'

export type Row = Schemas['Row']
export type Piece = { start: number; end: number; mode?: string; first?: boolean; levels?: number[] }
type Weekly = { id: number; week: Piece[][]; holidays?: unknown[]; default?: string }
export type Stroke = Omit<Schemas['PlanEdit'], 'plan'> & Partial<Pick<Schemas['ScheduleEdit'], 'open'>>
type Shown<T> = { value: T; text: string }

type Edit<T> = {
  draft: Ref<T | undefined>
  dirty: Ref<boolean>
  problem: Ref<string>
  /** Saving waits for what is handed to it. */
  wait: <R>(work: Promise<R>) => Promise<R>
}

/** What of a plan or a schedule a stroke is about. */
const part = (v: Weekly) => ({
  week: v.week,
  holidays: v.holidays?.length ? v.holidays : undefined,
  default: v.default,
})

/**
 * A week under edit. What is done to it is an operation with a number: a stroke, a stretch, typed text. Operations go
 * to the server one after the other, and its answers touch the week only. One that was overtaken, because the week is
 * another one since (undone, discarded, somebody else's), is dropped.
 */
export function useWeek<T extends Weekly>(
  edit: Edit<T>,
  send: (value: T, stroke: Stroke) => Promise<Shown<T>>,
  consequence: (value: T) => Schemas['Edit'],
) {
  const { draft } = edit
  const text = ref('')
  const unread = ref('')
  const effect = useConsequence(() => (draft.value?.id && edit.dirty.value ? consequence(draft.value) : undefined))

  let done = 0 // the number of the last operation whose answer stands
  let given = 0
  let known: unknown // the part of the draft that the text belongs to
  let queue: Promise<unknown> = Promise.resolve()

  /** One operation; they wait for each other, so that none is lost. */
  function stroke(s: Stroke): Promise<void> {
    const number = ++given
    const work = queue.then(async () => {
      const before = draft.value
      if (!before || number <= done) return
      const asked = part(before)
      try {
        const shown = await send(before, s)
        if (number <= done || !draft.value || !same(part(draft.value), asked)) return
        done = number
        unread.value = ''
        const { week, holidays } = shown.value
        known = part({ ...draft.value, week, holidays })
        draft.value.week = week as T['week']
        if (holidays?.length) draft.value.holidays = holidays
        else delete draft.value.holidays
        if (s.do !== 'text') text.value = shown.text
      } catch (e) {
        if (number <= done) return
        if (s.do === 'text') unread.value = (e as Error).message
        else edit.problem.value = (e as Error).message
      }
    })
    queue = work
    return edit.wait(work)
  }

  // Typed text is read a moment after the last letter; saving waits for that, and so does the next stroke.
  let timer = 0
  let read: (() => void) | undefined
  function typed() {
    clearTimeout(timer)
    if (!read) void edit.wait(new Promise<void>((finish) => (read = finish)))
    timer = window.setTimeout(flush, 180)
  }
  function flush() {
    const finish = read
    clearTimeout(timer)
    if (!finish) return
    read = undefined
    void stroke({ do: 'text', text: text.value }).finally(finish)
  }

  // A week that comes from elsewhere (loaded, undone, discarded, merged) is shown as text; earlier answers are late.
  watch(
    () => draft.value && part(draft.value),
    (now) => {
      if (!now || same(now, known)) return
      known = JSON.parse(JSON.stringify(now))
      done = given
      unread.value = ''
      void stroke({ do: 'show' })
    },
    { deep: true, immediate: true },
  )

  onScopeDispose(() => clearTimeout(timer))
  return { text, unread, effect, stroke, typed, flush }
}
