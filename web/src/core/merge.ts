/** A field that both changed, each otherwise; the path as the API names it. */
export type Clash = { path: string; base: unknown; mine: unknown; theirs: unknown }

const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v)

/** Whether two values are the same document; a field that is not there is as one that is undefined. */
export function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => same(x, b[i]))
  if (!plain(a) || !plain(b)) return false
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((k) => same(a[k], b[k]))
}

export const copy = <T>(v: T): T => (v === undefined ? v : (JSON.parse(JSON.stringify(v)) as T))

/**
 * What comes of two changes of one document, by field: who alone changed a field has it. Where both did, mine stands
 * for now, and the clash is told. Lists are one field.
 */
export function merge<T>(base: T, mine: T, theirs: T): { value: T; clashes: Clash[] } {
  const clashes: Clash[] = []
  const walk = (b: unknown, m: unknown, t: unknown, path: string): unknown => {
    if (same(m, t) || same(b, t)) return copy(m)
    if (same(b, m)) return copy(t)
    if (plain(b) && plain(m) && plain(t)) {
      const out: Record<string, unknown> = {}
      for (const k of new Set([...Object.keys(t), ...Object.keys(m), ...Object.keys(b)])) {
        const v = walk(b[k], m[k], t[k], path ? `${path}.${k}` : k)
        if (v !== undefined) out[k] = v
      }
      return out
    }
    clashes.push({ path, base: copy(b), mine: copy(m), theirs: copy(t) })
    return copy(m)
  }
  return { value: walk(base, mine, theirs, '') as T, clashes }
}

/** Writes a value at a path of a document, leaving it out where it is undefined. */
export function put(document: object, path: string, value: unknown) {
  const parts = path.split('.')
  let at = document as Record<string, unknown>
  for (const p of parts.slice(0, -1)) {
    if (!plain(at[p])) at[p] = {}
    at = at[p] as Record<string, unknown>
  }
  const last = parts.at(-1)!
  if (value === undefined) delete at[last]
  else at[last] = copy(value)
}
