import { onScopeDispose, ref, watch, type Ref } from 'vue'

/** What the server says of a draft, a moment after it was last touched; nothing while there is none. */
export function usePreview<D, R>(draft: () => D | undefined, say: (draft: D, signal: AbortSignal) => Promise<R>) {
  const said = ref() as Ref<R | undefined>
  let timer = 0
  let asked: AbortController | undefined
  watch(
    draft,
    (now) => {
      clearTimeout(timer)
      asked?.abort() // it has been overtaken
      if (!now) {
        said.value = undefined
        return
      }
      timer = window.setTimeout(async () => {
        const mine = (asked = new AbortController())
        const answer = await say(now, mine.signal).catch(() => undefined) // what is wrong is said at its field
        if (mine === asked && !mine.signal.aborted) said.value = answer
      }, 200)
    },
    { deep: true, immediate: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    asked?.abort()
  })
  return said
}
