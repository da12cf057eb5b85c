import { waitFor } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import { effectScope, nextTick, ref, type Ref } from 'vue'
import { useWeek, type Piece, type Stroke } from './week'

type Plan = { id: number; name: string; week: Piece[][]; holidays?: never[] }
const empty = (): Plan => ({ id: 0, name: 'Plan', week: Array.from({ length: 7 }, () => []) })
const answers: (() => void)[] = []

/** A server that paints what it is told when it is let. */
function open() {
  answers.length = 0
  const draft = ref<Plan>(empty()) as Ref<Plan | undefined>
  const underWay = new Set<Promise<unknown>>()
  const seen: Stroke[] = []
  const wait = <R>(work: Promise<R>) => {
    underWay.add(work)
    void work.finally(() => underWay.delete(work))
    return work
  }
  const scope = effectScope()
  const week = scope.run(() =>
    useWeek<Plan>(
      { draft, dirty: ref(false), problem: ref(''), wait },
      (value, s) => {
        seen.push(s)
        const next = JSON.parse(JSON.stringify(value)) as Plan
        if (s.do === 'paint') next.week[s.rows![0]!.day] = [{ start: 480, end: 1020 }]
        if (s.do === 'text') next.week[0] = [{ start: Number(s.text) * 60, end: 1020 }]
        return new Promise((done, failed) =>
          answers.push(() =>
            s.text === 'x'
              ? failed(new Error('not understood'))
              : done({ value: { ...next, name: 'as it was' }, text: `text ${JSON.stringify(next.week[0])}` }),
          ),
        )
      },
      () => ({}) as never,
    ),
  )!
  const answer = async () => {
    await waitFor(() => expect(answers.length).toBeGreaterThan(0))
    answers.shift()!()
    await nextTick()
    await Promise.resolve()
  }
  return { draft, week, underWay, seen, answer, scope }
}
const paint = (day: number): Stroke => ({ do: 'paint', rows: [{ day, typeId: 0 }] })

describe('a week', () => {
  it('takes the week of an answer and nothing else', async () => {
    const w = open()
    await w.answer() // shown
    void w.week.stroke(paint(2))
    w.draft.value!.name = 'Night plan'
    await w.answer()
    await waitFor(() => expect(w.draft.value!.week[2]).toHaveLength(1))
    expect(w.draft.value!.name).toBe('Night plan')
  })

  it('loses no stroke, and sends them one after the other', async () => {
    const w = open()
    await w.answer()
    for (const d of [1, 2, 3]) void w.week.stroke(paint(d))
    for (let i = 0; i < 3; i++) {
      await waitFor(() => expect(answers).toHaveLength(1))
      await w.answer()
    }
    await waitFor(() => expect(w.draft.value!.week.map((d) => d.length)).toEqual([0, 1, 1, 1, 0, 0, 0]))
  })

  it('drops an answer that comes after the week was undone', async () => {
    const w = open()
    await w.answer()
    void w.week.stroke(paint(1))
    await waitFor(() => expect(answers).toHaveLength(1))
    const late = answers.shift()!
    w.draft.value = { ...empty(), week: [[{ start: 0, end: 60 }], [], [], [], [], [], []] } // an undo
    await nextTick()
    late()
    await w.answer() // of showing what was undone to
    await waitFor(() => expect(w.week.text.value).toContain('"end":60'))
    expect(w.draft.value!.week[1]).toEqual([])
  })

  it('is under way from the first letter until the text is read', async () => {
    const w = open()
    await w.answer()
    await waitFor(() => expect(w.underWay.size).toBe(0))
    w.week.text.value = '9'
    w.week.typed()
    expect(w.underWay.size).toBe(1) // also in the 180 ms before it is sent
    w.week.flush()
    await w.answer()
    await waitFor(() => expect(w.underWay.size).toBe(0))
    expect(w.draft.value!.week[0]).toEqual([{ start: 540, end: 1020 }])
    expect(w.week.text.value).toBe('9') // what is typed stays as it is typed
  })

  it('says what of a text is not understood, and leaves the week', async () => {
    const w = open()
    await w.answer()
    w.week.text.value = 'x'
    w.week.typed()
    w.week.flush()
    await w.answer()
    await waitFor(() => expect(w.week.unread.value).toBe('not understood'))
    expect(w.draft.value!.week[0]).toEqual([])
  })
})
