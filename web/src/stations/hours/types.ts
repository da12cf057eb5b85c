import { computed, onMounted, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../site'

const tints = ['bg-amber', 'bg-dot', 'bg-basalt', 'bg-copper', 'bg-violet', 'bg-wine', 'bg-kelp']

/** The holiday types, lowest rank first, each with its tint and its height on a strip. */
export function useTypes() {
  const site = useSite()
  const types = ref<Schemas['HolidayType'][]>([])
  async function load() {
    const page = await ask(api.GET('/api/holiday-types', { params: { query: { limit: 1000 } } }))
    types.value = page.items.map((t) => t.value).sort((a, b) => a.rank - b.rank || a.id - b.id)
  }
  onMounted(load)
  watch(() => site.version, load)
  const index = (id: number) => Math.max(0, types.value.findIndex((t) => t.id === id))
  const tint = (id: number) => tints[index(id) % tints.length]!
  const height = (id: number) => `${Math.min(100, 55 + (45 * (index(id) + 1)) / Math.max(1, types.value.length))}%`
  const nameOf = computed(() => (id: number) => types.value.find((t) => t.id === id)?.name ?? 'no type')
  return { types, tint, height, nameOf, load }
}

/** What a type's two defaults mean, in words. */
export function typeWords(t: Pick<Schemas['HolidayType'], 'plans' | 'schedules'>): string {
  const doors = t.plans === 'default mode' ? 'Doors stay in their plan’s default mode' : 'Doors ask what they ask on the weekday'
  const cards = t.schedules === 'closed' ? 'schedules are closed, so cards do not work' : 'cards work as on the weekday'
  return `${doors}; ${cards}, unless a plan or a schedule says otherwise.`
}
