import type { Ref } from 'vue'
import type { Clash } from '../core/merge'
import { useNames } from '../core/names'

const names = (c: Clash) => /Id$/.test(c.path)

/** The words for both sides of what clashes: numbers of objects by their names, lists by how many there are. */
export function useClashWords(clashes: Readonly<Ref<Clash[] | undefined>>) {
  const { nameOf } = useNames(() =>
    (clashes.value ?? [])
      .filter(names)
      .flatMap((c) => [c.mine, c.theirs])
      .filter((v) => typeof v === 'number'),
  )
  return (c: Clash, whose: 'mine' | 'theirs') => {
    const v = c[whose]
    if (names(c) && typeof v === 'number') return v ? nameOf(v) : 'nothing'
    if (v === undefined || v === '') return 'nothing'
    if (typeof v === 'boolean') return v ? 'yes' : 'no'
    if (Array.isArray(v)) return `${v.length} of them`
    return typeof v === 'object' ? 'other values' : String(v)
  }
}
