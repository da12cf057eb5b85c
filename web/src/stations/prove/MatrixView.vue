<script setup lang="ts">
import { useDebounce } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useAddress } from '../../core/address'
import { useComputed } from '../../core/query'
import { placePath } from '../../app/places'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DateField from '../../ui/DateField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import TimeField from '../../ui/TimeField.vue'
import { many } from '../../words'
import MatrixWhy from './MatrixWhy.vue'
import ProveTabs from './ProveTabs.vue'

/** Who can go where: people, levels or departments by doors; those who are alike are one row. */
type Rows = 'people' | 'levels' | 'departments'
type Span = 'moment' | 'week' | 'ever'
const rows = useAddress('rows', 'people')
const span = useAddress('span', 'moment')
const from = useAddress('from')
const who = useAddress('who')
const door = useAddress('door')
const sort = useAddress('sort', 'doors')
const whoSoon = useDebounce(who, 200)
const doorSoon = useDebounce(door, 200)
const column = ref(0)
const offset = ref(0)
const wide = 32
const tall = 36
const params = computed(() => ({
  rows: rows.value as Rows,
  span: span.value as Span,
  from: from.value,
  who: whoSoon.value,
  door: doorSoon.value,
  sort: sort.value as 'doors' | 'name',
  column: column.value,
  doors: wide,
  offset: offset.value,
  limit: tall,
}))
const query = useComputed(
  'matrix',
  () => [params.value],
  (signal) => ask(api.GET('/api/matrix', { params: { query: params.value }, signal })),
)
const shown = ref<Schemas['MatrixShown']>()
watch(query.data, (d) => d && (shown.value = d), { immediate: true })
const m = computed(() => query.data.value ?? shown.value)
const day = computed({
  get: () => from.value.slice(0, 10) || undefined,
  set: (d) => (from.value = d ? `${d}T${from.value.slice(11) || '12:00'}` : ''),
})
const time = computed({
  get: () => from.value.slice(11),
  set: (t) => (from.value = t && from.value ? `${from.value.slice(0, 10)}T${t}` : from.value),
})
const names = (r: Schemas['MatrixRowLine']) => {
  const some = r.members.slice(0, 3).map((p) => p.name)
  return r.count > 3 ? `${some.join(', ')} and ${r.count - 3} more` : some.join(', ')
}
const chosen = ref<{ row: number; column: number }>()
const cell = computed(() => {
  const r = chosen.value && m.value?.rows[chosen.value.row]
  const c = chosen.value && m.value?.columns[chosen.value.column]
  return r && c ? { row: r, door: c, is: r.cells[chosen.value!.column]! } : undefined
})
const words: Record<string, string> = {
  o: 'comes in',
  m: 'comes in, not alone',
  c: 'not in this time',
  '-': 'nothing leads there',
}
const csv = computed(
  () =>
    `/api/matrix.csv?${new URLSearchParams({ rows: rows.value, span: span.value, from: from.value, who: who.value, door: door.value, sort: sort.value })}`,
)
/** Arrow keys walk over the cells. */
function key(e: KeyboardEvent, r: number, c: number) {
  const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[e.key]
  if (!by) return
  e.preventDefault()
  document.getElementById(`cell-${r + by[0]!}-${c + by[1]!}`)?.focus()
}
const print = () => window.print()
</script>

<template>
  <SheetFrame fill title="Who can go where" :under="m ? inClock(m.when) : ''">
    <template #actions
      ><button class="btn" @click="print">Print</button><a class="btn" :href="csv" download>CSV</a></template
    >
    <ProveTabs />
    <div class="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      <ChoiceBar
        v-model="rows"
        label="Rows"
        :choices="[
          { value: 'people', name: 'people' },
          { value: 'levels', name: 'levels' },
          { value: 'departments', name: 'departments' },
        ]"
      />
      <ChoiceBar
        v-model="span"
        label="When"
        :choices="[
          { value: 'moment', name: 'at a moment' },
          { value: 'week', name: 'in a week' },
          { value: 'ever', name: 'ever' },
        ]"
      />
      <span v-if="span !== 'ever'" class="flex items-center gap-1.5"
        ><DateField v-model="day" label="The day" placeholder="now" /><TimeField
          v-if="from"
          v-model="time"
          label="The time"
      /></span>
      <input
        v-model="who"
        type="search"
        class="field w-40!"
        placeholder="Who"
        aria-label="Only rows with this in the name"
      />
      <input
        v-model="door"
        type="search"
        class="field w-40!"
        placeholder="Door, floor or site"
        aria-label="Only doors with this in the name or place"
      />
      <select v-model="sort" class="field w-40!" aria-label="Order of the rows">
        <option value="doors">most doors first</option>
        <option value="name">by name</option>
      </select>
    </div>
    <StateBox
      v-if="!m"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="10"
    />
    <p v-else-if="query.error.value" role="alert" class="mb-2 font-semibold text-wine">
      {{ query.error.value.message }}
    </p>
    <p v-else-if="!m.rows.length || !m.columns.length" class="card p-4 text-ash">Nothing has that in its name.</p>
    <div
      v-if="m?.rows.length && m.columns.length"
      class="card min-h-0 flex-1 overflow-auto"
      role="region"
      aria-label="Who can go where"
      tabindex="0"
    >
      <table class="border-separate border-spacing-0 text-[12.5px]">
        <thead>
          <tr>
            <th
              class="sticky top-0 left-0 z-20 min-w-52 border-r border-b border-seam bg-paper px-3 py-1.5 text-left align-bottom font-normal text-ash"
              scope="col"
            >
              {{ many(m.people, { people: 'person', levels: 'level', departments: 'department' }[rows as Rows], rows) }}
              in {{ many(m.rowCount, 'row', 'rows') }}, {{ many(m.doorCount, 'door', 'doors') }}
            </th>
            <th
              v-for="c in m.columns"
              :key="c.id"
              class="sticky top-0 z-10 h-36 w-7 border-b border-seam bg-paper align-bottom font-normal"
              scope="col"
              :title="`${c.name}, ${c.floor}: ${c.count}`"
            >
              <RouterLink
                :to="`/prove/${c.id}`"
                class="mx-auto block max-h-34 truncate px-1 [writing-mode:vertical-rl] hover:underline rotate-180"
                >{{ c.name }}</RouterLink
              >
              <span class="block pb-1 text-center text-[11px] text-ash">{{ c.count }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in m.rows" :key="i">
            <th
              class="sticky left-0 z-10 max-w-64 min-w-52 border-r border-b border-seam bg-paper px-3 py-1 text-left font-normal"
              scope="row"
            >
              <RouterLink
                v-if="r.count === 1"
                class="block truncate hover:underline"
                :to="placePath(r.members[0]!.kind, r.members[0]!.id)"
                >{{ r.members[0]!.name }} <span class="note text-[11.5px]">{{ r.members[0]!.hint }}</span></RouterLink
              ><span v-else class="block truncate" :title="r.members.map((p) => p.name).join(', ')">{{
                names(r)
              }}</span>
            </th>
            <td v-for="(c, k) in m.columns" :key="c.id" class="border-b border-seam/60 p-0">
              <button
                :id="`cell-${i}-${k}`"
                type="button"
                class="grid h-7 w-7 place-items-center"
                :class="[
                  r.cells[k] === 'o'
                    ? 'dot-full bg-kelp/25'
                    : r.cells[k] === 'm'
                      ? 'dot-half bg-kelp/10'
                      : r.cells[k] === 'c'
                        ? 'dot-ring'
                        : '',
                  chosen?.row === i && chosen?.column === k ? 'outline-2 -outline-offset-2 outline-ink' : '',
                ]"
                :tabindex="i === 0 && k === 0 ? 0 : -1"
                :aria-label="`${names(r)} at ${c.name}: ${words[r.cells[k]!]}`"
                @click="chosen = { row: i, column: k }"
                @keydown="(e) => key(e, i, k)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-if="m" class="mt-2 flex flex-wrap items-center gap-3 text-[12.5px] print:hidden">
      <span class="flex items-center gap-1.5"><span class="size-2.5 rounded-full bg-kelp" /> comes in</span>
      <span class="flex items-center gap-1.5"
        ><span class="size-2.5 rounded-full border-2 border-kelp" /> not alone: with others, another proof, or once
        cleared</span
      >
      <span class="flex items-center gap-1.5"
        ><span class="size-2.5 rounded-full border border-edge" /> not in this time</span
      >
      <span v-if="m.doorCount > wide" class="ml-auto flex items-center gap-1"
        ><button class="btn px-2 py-0.5" :disabled="!column" @click="column = Math.max(0, column - wide)">
          Doors before</button
        ><button class="btn px-2 py-0.5" :disabled="column + wide >= m.doorCount" @click="column += wide">
          More doors
        </button></span
      >
      <span v-if="m.rowCount > tall" class="flex items-center gap-1"
        ><button class="btn px-2 py-0.5" :disabled="!offset" @click="offset = Math.max(0, offset - tall)">
          Rows before</button
        ><button class="btn px-2 py-0.5" :disabled="offset + tall >= m.rowCount" @click="offset += tall">
          More rows
        </button></span
      >
    </div>
    <template #aside>
      <MatrixWhy v-if="cell" :cell="cell" :from="from" :rows="rows" />
      <p v-else class="card p-3 text-[13px] text-ash">Choose a cell to see why. Arrows walk from one to the next.</p>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Those who may do the same at every door that is shown are one row.</p>
        <p>By the configuration as it stands here, sent or not; no first card has come yet.</p>
      </div>
    </template>
  </SheetFrame>
</template>

<style scoped>
.dot-full,
.dot-half,
.dot-ring {
  print-color-adjust: exact;
}
.dot-full {
  background-image: radial-gradient(circle, var(--color-kelp) 4.5px, transparent 5px);
}
.dot-half {
  background-image: radial-gradient(
    circle,
    transparent 2.5px,
    var(--color-kelp) 3px,
    var(--color-kelp) 4.5px,
    transparent 5px
  );
}
.dot-ring {
  background-image: radial-gradient(circle, transparent 4px, var(--color-edge) 4.5px, transparent 5.5px);
}
</style>
