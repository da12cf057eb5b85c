import { useDebounceFn } from '@vueuse/core'
import { computed, reactive, watch } from 'vue'
import type { Versioned } from './query'

/** What somebody is changing of a thing: the state that they began from, and theirs. */
export type Draft = { kind: string; id: number; name: string; path: string; base: Versioned<unknown>; mine: unknown }

const shelf = 'drafts'

function read(): Record<string, Draft> {
  try {
    return JSON.parse(sessionStorage.getItem(shelf) ?? '{}') as Record<string, Draft>
  } catch {
    return {} // what cannot be read is nobody's draft
  }
}

/** Drafts by kind and number; they outlive going elsewhere, a reload and a new sign-in. */
export const drafts = reactive(read())

const keep = useDebounceFn(() => {
  try {
    sessionStorage.setItem(shelf, JSON.stringify(drafts))
  } catch {
    // A store that is full keeps no more; what is on the page stays on the page.
  }
}, 150)
watch(drafts, keep, { deep: true })
window.addEventListener('pagehide', () => {
  try {
    sessionStorage.setItem(shelf, JSON.stringify(drafts))
  } catch {
    // as above
  }
})

export const draftKey = (kind: string, id: number) => `${kind} ${id}`

export const draftList = computed(() => Object.values(drafts))

export function forgetDrafts() {
  for (const k of Object.keys(drafts)) delete drafts[k]
  sessionStorage.removeItem(shelf)
}
