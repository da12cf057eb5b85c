import { computed, ref, watch, type Ref } from 'vue'

type Head = { id: string; sort?: string }

/**
 * A grid that is one Tab stop (WAI-ARIA, grid pattern): arrows walk its rows, and its head above the first; Space
 * chooses, Shift through what lies between, Enter opens, or sorts in the head.
 */
export function useGridKeys<R>(o: {
  rows: () => R[]
  id: (r: R) => number
  columns: Readonly<Ref<Head[]>>
  chooses: () => boolean
  selected: Ref<number[]>
  sort: Ref<string>
  open: (r: R) => void
  /** Brings a row into sight. */
  show: (row: number) => void
}) {
  const at = ref(0) // the row; -1 is the head
  const column = ref(0) // of the head
  const anchor = ref(0)
  watch(
    () => o.rows().length,
    (n) => {
      if (at.value >= n) at.value = Math.max(0, n - 1)
    },
  )

  const chosen = computed(() => new Set(o.selected.value))
  function choose(i: number, on: boolean, through = false) {
    const [from, to] = through ? [Math.min(anchor.value, i), Math.max(anchor.value, i)] : [i, i]
    const those = o
      .rows()
      .slice(from, to + 1)
      .map(o.id)
    o.selected.value = on
      ? [...new Set([...o.selected.value, ...those])]
      : o.selected.value.filter((x) => !those.includes(x))
    if (!through) anchor.value = i
  }
  function sortBy(c: Head) {
    if (!c.sort) return
    o.sort.value = o.sort.value === c.sort ? `-${c.sort}` : o.sort.value === `-${c.sort}` ? '' : c.sort
  }
  const sorted = (c: Head) =>
    c.sort && o.sort.value === c.sort ? 'ascending' : c.sort && o.sort.value === `-${c.sort}` ? 'descending' : undefined
  const sorts = computed(() => o.columns.value.some((c) => c.sort))

  function headKey(e: KeyboardEvent): boolean {
    const n = o.columns.value.length
    if (e.key === 'ArrowRight') column.value = Math.min(n - 1, column.value + 1)
    else if (e.key === 'ArrowLeft') column.value = Math.max(0, column.value - 1)
    else if (e.key === 'Enter' || e.key === ' ') sortBy(o.columns.value[column.value]!)
    else return false
    return true
  }
  /** Does what a key means; false where it means nothing here. */
  function key(e: KeyboardEvent): boolean {
    if (at.value < 0 && headKey(e)) return true
    const n = o.rows().length
    const to = {
      ArrowDown: at.value + 1,
      ArrowUp: at.value - 1,
      PageDown: at.value + 12,
      PageUp: at.value - 12,
      Home: 0,
      End: n - 1,
    }[e.key]
    const here = o.rows()[at.value]
    if (to !== undefined) {
      at.value = Math.max(e.key === 'ArrowUp' && sorts.value ? -1 : 0, Math.min(n - 1, to))
      if (at.value >= 0 && o.chooses() && e.shiftKey) choose(at.value, true, true)
      o.show(Math.max(0, at.value))
    } else if (e.key === 'Enter' && here) o.open(here)
    else if (e.key === ' ' && here && o.chooses()) choose(at.value, !chosen.value.has(o.id(here)))
    else if (e.key === 'a' && (e.ctrlKey || e.metaKey) && o.chooses()) o.selected.value = o.rows().map(o.id)
    else return false
    return true
  }
  return { at, column, chosen, choose, sortBy, sorted, key }
}
