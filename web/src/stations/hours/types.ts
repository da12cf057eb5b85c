import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useAll } from '../../core/query'

const tints = ['bg-amber', 'bg-dot', 'bg-basalt', 'bg-copper', 'bg-violet', 'bg-wine', 'bg-kelp']
type HolidayType = Schemas['HolidayType']

/** The holiday types, lowest rank first, each with its tint and its height on a strip. They are few. */
export function useTypes() {
  const query = useAll('holiday type')
  const types = computed<HolidayType[]>(() =>
    (query.data.value ?? []).map((t) => t.value).sort((a, b) => a.rank - b.rank || a.id - b.id),
  )
  const index = (id: number) =>
    Math.max(
      0,
      types.value.findIndex((t) => t.id === id),
    )
  const tint = (id: number) => tints[index(id) % tints.length]!
  const height = (id: number) => `${Math.min(100, 55 + (45 * (index(id) + 1)) / Math.max(1, types.value.length))}%`
  const nameOf = computed(() => (id: number) => types.value.find((t) => t.id === id)?.name ?? 'no type')
  return { types, tint, height, nameOf, query }
}
