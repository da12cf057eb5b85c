import { api, ask, type Schemas } from '../api/client'
import { many } from '../words'
import { usePreview } from './usePreview'

/** What an edit would do, a moment after it was last touched; nothing while there is none. */
export const useConsequence = (edit: () => Schemas['Edit'] | undefined) =>
  usePreview(edit, (body, signal) => ask(api.POST('/api/hours/effect', { body, signal })))

/** What it does to leave something out, as a sentence. */
export async function removalWords(id: number): Promise<string> {
  const e = await ask(api.POST('/api/hours/effect', { body: { remove: id } })).catch(() => undefined)
  if (!e) return ''
  if (!e.first) return 'Nothing differs without it in the next 13 months. '
  const doors = e.count ? `${many(e.count, 'door asks', 'doors ask')} something else. ` : ''
  return `Without it: ${doors}${e.sentence} First ${e.first}, once sent. `
}
