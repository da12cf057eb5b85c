import type { Schemas } from '../../api/client'

type Event = Schemas['Event']

/** The newer one first; of one moment the later stored. */
const earlier = (a: Event, b: Event) => a.at < b.at || (a.at === b.at && a.id < b.id)

/**
 * The pages of a list with one more event, where its own time puts it: one that a controller kept while it was off the
 * network is old when it comes. What lies beyond the last page is read with that.
 */
export function insert(pages: Event[][], e: Event): Event[][] {
  if (pages.some((p) => p.some((x) => x.id === e.id))) return pages
  const at = pages.findIndex((p) => p.some((x) => earlier(x, e)))
  const into = at < 0 ? pages.length - 1 : at
  return pages.map((p, i) => {
    if (i !== into) return p
    const k = p.findIndex((x) => earlier(x, e))
    return k < 0 ? [...p, e] : [...p.slice(0, k), e, ...p.slice(k)]
  })
}
