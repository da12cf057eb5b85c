import { onScopeDispose, ref, watch, type Ref } from 'vue'
import { api, ask, Trouble, type Schemas, whatIsWrong } from '../../api/client'

const once: Schemas['RuleParts'] = {
  every: 'once',
  interval: 1,
  byDay: [],
  byMonthDay: [],
  byMonth: [],
  bySetPos: [],
  count: 0,
  until: '',
}

/** What a dated change under edit means: its rule in words, its next dates, the real weeks, and what it does. */
export function useChangePreview(edit: {
  draft: Ref<Schemas['DatedChange'] | undefined>
  wait: <R>(work: Promise<R>) => Promise<R>
}) {
  const { draft } = edit
  const rule = ref<Schemas['RuleParts']>({ ...once })
  const preview = ref<Schemas['ChangePreview']>()
  const effect = ref<Schemas['EditEffect']>()
  const said = ref('')
  const wrong = ref<Record<string, string>>({}) // what the preview says against fields
  const ruleProblem = ref('')
  const week = ref('')

  let timer = 0
  let asked: AbortController | undefined
  let clicks = 0 // on the rule; while more than were answered, its parts say more than the draft
  let answered = 0
  let told = '' // the parts that were told last
  /** What the change means: its rule in words, its next dates, the real weeks, and what it does. */
  async function look() {
    if (!draft.value) return
    asked?.abort() // it has been overtaken
    const mine = (asked = new AbortController())
    const signal = mine.signal
    const at = clicks
    try {
      const p = await ask(
        api.POST('/api/dated-changes/preview', {
          body: { change: draft.value, week: week.value, ...(clicks > answered ? { parts: rule.value } : {}) },
          signal,
        }),
      )
      if (signal.aborted || at !== clicks) return
      preview.value = p
      answered = at
      told = JSON.stringify(p.parts)
      rule.value = p.parts
      if (draft.value.recurs !== p.recurs) draft.value.recurs = p.recurs
      said.value = ruleProblem.value = ''
      wrong.value = {}
      const somewhere =
        draft.value.doorIds.length +
        draft.value.floorIds.length +
        draft.value.siteIds.length +
        draft.value.setIds.length
      const e = somewhere
        ? await ask(api.POST('/api/hours/effect', { body: { change: draft.value }, signal }))
        : undefined
      if (!signal.aborted) effect.value = e
    } catch (e) {
      if (signal.aborted) return
      said.value = whatIsWrong(e)
      wrong.value = e instanceof Trouble ? e.fields : {}
      effect.value = undefined
    }
  }
  let read: (() => void) | undefined
  /** Looks a moment later; saving waits for that where the rule was clicked. */
  const soon = () => {
    clearTimeout(timer)
    if (clicks > answered && !read) void edit.wait(new Promise<void>((finish) => (read = finish)))
    timer = window.setTimeout(
      async () => {
        const finish = read
        read = undefined
        await look()
        finish?.()
      },
      preview.value ? 200 : 0, // at first the rule stands nowhere yet
    )
  }
  watch([draft, week], soon, { deep: true, immediate: true })
  watch(
    rule,
    (r) => {
      if (JSON.stringify(r) === told) return
      clicks++
      soon()
    },
    { deep: true },
  )

  onScopeDispose(() => {
    clearTimeout(timer)
    asked?.abort()
  })
  /** The rule is the draft's again, whatever was clicked. */
  function restart() {
    answered = clicks
    void look()
  }
  return { rule, preview, effect, said, wrong, ruleProblem, week, restart }
}
