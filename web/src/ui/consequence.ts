import { onScopeDispose, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { many } from '../words'

/** What an edit would do, a moment after it was last touched; nothing while there is none. */
export function useConsequence(edit: () => Schemas['Edit'] | undefined) {
  const effect = ref<Schemas['EditEffect']>()
  let timer = 0
  let asked: AbortController | undefined
  watch(
    edit,
    (body) => {
      clearTimeout(timer)
      asked?.abort() // it has been overtaken
      if (!body) {
        effect.value = undefined
        return
      }
      timer = window.setTimeout(async () => {
        const mine = (asked = new AbortController())
        // What is wrong with it is said at its field.
        const e = await ask(api.POST('/api/hours/effect', { body, signal: mine.signal })).catch(() => undefined)
        if (mine === asked && !mine.signal.aborted) effect.value = e
      }, 250)
    },
    { deep: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    asked?.abort()
  })
  return effect
}

/** What it does to leave something out, as a sentence. */
export async function removalWords(id: number): Promise<string> {
  const e = await ask(api.POST('/api/hours/effect', { body: { remove: id } })).catch(() => undefined)
  if (!e) return ''
  if (!e.first) return 'Nothing differs without it in the next 13 months. '
  const doors = e.count ? `${many(e.count, 'door asks', 'doors ask')} something else. ` : ''
  return `Without it: ${doors}${e.sentence} First ${e.first}, once sent. `
}
