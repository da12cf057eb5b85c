<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useAddress } from '../../core/address'
import { useComputed, type Objects } from '../../core/query'
import type { Column } from '../../ui/DataTable.vue'
import KindTable from '../../ui/KindTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { many, modeClass } from '../../words'
import HoursTabs from './HoursTabs.vue'
import MiniWeek from './MiniWeek.vue'
import PlaceYear from './PlaceYear.vue'
import { useTypes } from './types'

const { types, tint } = useTypes()
const what = useAddress('what', 'plans')
const lines = useComputed(
  'change lines',
  () => [],
  (signal) => ask(api.GET('/api/change-lines', { signal })),
)
const coming = computed(() =>
  ((lines.data.value ?? []) as Schemas['ChangeLine'][]).filter((c) => c.state !== 'past').slice(0, 4),
)

type Row<K extends 'plan' | 'schedule'> = { value: Objects[K]; rev: number; used: Record<string, number> }
const planColumns: Column<Row<'plan'>>[] = [
  { id: 'name', title: 'Passage plan', width: '210px', sort: 'name' },
  { id: 'week', title: 'Monday to Sunday' },
  {
    id: 'used',
    title: 'Doors',
    width: '120px',
    sort: 'used',
    text: (r) => (r.used.door ? many(r.used.door, 'door', 'doors') : 'no door follows'),
  },
]
const scheduleColumns: Column<Row<'schedule'>>[] = [
  { id: 'name', title: 'Schedule', width: '210px', sort: 'name' },
  { id: 'week', title: 'Monday to Sunday' },
  {
    id: 'used',
    title: 'Access levels',
    width: '130px',
    sort: 'used',
    text: (r) =>
      r.used.level ? many(r.used.level, 'level', 'levels') : r.value.fixed ? 'always there' : 'no level uses it',
  },
]
</script>

<template>
  <SheetFrame fill title="Hours" under="What doors ask at each hour, and when people may come in">
    <template #actions>
      <RouterLink class="btn" :class="what === 'plans' ? 'btn-amber' : ''" to="/hours/plans/new">New plan</RouterLink>
      <RouterLink class="btn" :class="what === 'plans' ? '' : 'btn-amber'" to="/hours/schedules/new"
        >New schedule</RouterLink
      >
    </template>
    <HoursTabs />
    <PlaceYear class="mb-3" />
    <nav class="mb-3 flex gap-1.5" aria-label="Plans or schedules">
      <RouterLink
        v-for="w in ['plans', 'schedules']"
        :key="w"
        class="rounded-md px-3 py-1 font-semibold"
        :class="what === w ? 'bg-basalt-2 text-paper' : 'text-ash hover:bg-lime hover:text-ink'"
        :aria-current="what === w ? 'true' : undefined"
        :to="{ query: w === 'plans' ? {} : { what: w } }"
        >{{ w === 'plans' ? 'Passage plans' : 'Schedules' }}</RouterLink
      >
    </nav>
    <KindTable
      v-if="what === 'plans'"
      key="plans"
      kind="plan"
      label="Passage plans"
      :columns="planColumns"
      none="No plan yet. A plan says what its doors ask at each hour of a week."
    >
      <template #week="{ row }"><MiniWeek :week="row.value.week" :otherwise="row.value.default" /></template>
    </KindTable>
    <KindTable
      v-else
      key="schedules"
      kind="schedule"
      label="Schedules"
      :columns="scheduleColumns"
      none="No schedule yet."
    >
      <template #week="{ row }"><MiniWeek :week="row.value.week" /></template>
    </KindTable>
    <template #aside>
      <h2>Dated changes</h2>
      <div class="card text-[13px]">
        <p v-if="!coming.length" class="p-3 text-ash">{{ lines.isPending.value ? 'Looking …' : 'None is coming.' }}</p>
        <RouterLink
          v-for="c in coming"
          :key="c.id"
          :to="`/hours/changes/${c.id}`"
          class="row items-start py-1.5 hover:bg-lime"
          ><span class="mt-1 h-3 w-4 shrink-0 border-2 border-dashed border-violet" :class="modeClass(c.mode)" /><span
            ><b>{{ c.name }}</b
            ><span class="note block text-[12px]">{{ c.state === 'now' ? 'now, ' : '' }}{{ c.next }}</span></span
          ></RouterLink
        >
        <RouterLink class="row py-1.5 underline" to="/hours/changes/new">New dated change</RouterLink>
      </div>
      <h2>Holiday types</h2>
      <div class="card text-[13px]">
        <RouterLink v-for="t in types" :key="t.id" :to="`/hours/types/${t.id}`" class="row py-1.5 hover:bg-lime"
          ><span class="size-2.5 rounded-full" :class="tint(t.id)" />{{ t.name }}</RouterLink
        >
      </div>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>A passage plan</b> says what a door asks of everybody: nothing, a card, a PIN, or that it is barred.</p>
        <p><b>A schedule</b> says when an access level lets its people in.</p>
        <p>Hours are wall-clock time in the zone of the door’s controller.</p>
      </div>
    </template>
  </SheetFrame>
</template>
