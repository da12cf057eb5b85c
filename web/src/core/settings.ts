import { api, ask, type Schemas } from '../api/client'
import { useSheet } from './sheet'

/** The sheet of what holds everywhere (PINs, card formats), under the name of the view that edits its part of it. */
export const useSettings = (name: string) =>
  useSheet<Schemas['Settings']>({
    kind: 'settings',
    id: 0,
    name: () => name,
    load: (signal) => ask(api.GET('/api/settings', { signal })),
    store: (value, rev) => ask(api.PUT('/api/settings', { body: { rev, value } })),
  })
