import { api, ask } from '../../api/client'

/** Rules as most begin, for a door or for none yet. */
export const usualRules = (door = 0) => ask(api.GET('/api/usual-rules', { params: { query: { door } } }))
