import { ref } from 'vue'
import { api, ask } from '../api/client'
import type { useSheet } from '../core/sheet'
import { kinds, type Kind } from '../core/query'
import { sure } from './sure'

type Remove = (path: string, init: unknown) => Promise<{ data?: unknown; error?: unknown; response: Response }>

/**
 * Removes what a sheet is about, after a question that says what follows from it, and goes back to where it is listed.
 * What stands against it is said at the sheet; pressed twice it is asked once.
 */
export function useRemoval<T extends { name: string }>(
  edit: Pick<ReturnType<typeof useSheet<T>>, 'stored' | 'problem' | 'leave'>,
  o: {
    kind: Kind
    id: number
    /** What follows, in a sentence or more; History can bring it back is said besides. */
    follows?: () => string | Promise<string>
    /** Where it is listed. */
    to: string
    verb?: string
    button?: string
  },
) {
  const busy = ref(false)
  return async function remove() {
    const stored = edit.stored.value
    if (!stored || busy.value) return
    busy.value = true
    try {
      const verb = o.verb ?? 'Remove'
      const follows = (await o.follows?.()) ?? ''
      if (!(await sure(`${verb} ${stored.value.name}?`, follows, o.button ?? `${verb} it`))) return
      const remove = api.DELETE as unknown as Remove
      await ask(
        remove(`/api/${kinds[o.kind]}/{id}`, {
          params: { path: { id: o.id }, query: { rev: edit.stored.value!.rev } },
        }),
      )
      edit.leave(o.to)
    } catch (e) {
      edit.problem.value = (e as Error).message
    } finally {
      busy.value = false
    }
  }
}
