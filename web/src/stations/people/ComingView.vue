<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useAddress } from '../../core/address'
import { useComputed } from '../../core/query'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import PeopleTabs from './PeopleTabs.vue'

/** What begins and ends in the next weeks: access for some time, people's own dates, cards. */
type Line = Schemas['Coming'] & { key: number }
const days = useAddress('days', '42')
const query = useComputed(
  'coming',
  () => [days.value],
  (signal) => ask(api.GET('/api/coming', { params: { query: { days: Number(days.value) } }, signal })),
)
const rows = computed<Line[]>(() => (query.data.value ?? []).map((c, key) => ({ ...c, key })))
const columns: Column<Line>[] = [
  { id: 'when', title: 'When', width: '186px' },
  { id: 'what', title: '', width: '64px' },
  { id: 'name', title: 'Who', width: 'minmax(0,1fr)', text: (l) => l.name },
  { id: 'held', title: 'What', width: 'minmax(0,1.6fr)', text: (l) => l.what },
]
</script>

<template>
  <SheetFrame
    fill
    title="Begins and ends"
    under="Access for some time ends by itself at the controllers, also off the network"
  >
    <PeopleTabs />
    <div class="mb-3 flex items-center gap-2 text-[13px]">
      <label for="coming-days" class="text-ash">In the next</label>
      <select id="coming-days" v-model="days" class="field w-32!">
        <option value="7">7 days</option>
        <option value="14">2 weeks</option>
        <option value="42">6 weeks</option>
        <option value="182">6 months</option>
      </select>
    </div>
    <DataTable
      :id="(l: Line) => l.key"
      label="What begins and ends"
      :columns="columns"
      :rows="rows"
      :name="(l: Line) => `${l.name}: ${l.what} ${l.begins ? 'begins' : 'ends'} ${l.when}`"
      :to="(l: Line) => (l.kind === 'person' ? `/people/${l.id}` : `/people/departments/${l.id}`)"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      none="Nothing begins or ends in this time. On somebody’s sheet, “at all dates” gives what they hold a beginning and an end."
    >
      <template #when="{ row }"
        ><b>{{ inClock(row.when) }}</b></template
      >
      <template #what="{ row }"
        ><span class="pill border" :class="row.begins ? 'border-kelp text-kelp' : 'border-wine text-wine'">{{
          row.begins ? 'begins' : 'ends'
        }}</span></template
      >
    </DataTable>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>A date without a time begins at its first minute and ends with its last, 23:59.</p>
        <p>Times are by the clock of the first site; each door goes by its own.</p>
      </div>
    </template>
  </SheetFrame>
</template>
