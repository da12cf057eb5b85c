<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../../api/client'
import { useComputed, type Objects } from '../../core/query'
import type { Column } from '../../ui/DataTable.vue'
import KindTable from '../../ui/KindTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import PeopleTabs from './PeopleTabs.vue'

type Row = { value: Objects['level']; rev: number; used: Record<string, number> }
/** Who holds each, also through departments and through levels that contain it. */
const query = useComputed(
  'holders of all',
  () => [],
  (signal) => ask(api.GET('/api/holders', { signal })),
)
const holders = computed(() => new Map((query.data.value ?? []).map((h) => [h.id, h.count])))
const selected = ref<number[]>([])
const columns: Column<Row>[] = [
  { id: 'name', title: 'Access level', sort: 'name' },
  { id: 'places', title: 'Places', width: '110px', sort: 'places', text: (r) => String(r.value.entries.length) },
  {
    id: 'holders',
    title: 'People',
    width: '110px',
    sort: 'holders',
    text: (r) => String(holders.value.get(r.value.id) ?? 0),
  },
  {
    id: 'opens',
    title: '',
    width: '170px',
    text: (r) =>
      [r.value.opensDay ? 'opens the day' : '', r.value.includes?.length ? `contains ${r.value.includes.length}` : '']
        .filter(Boolean)
        .join(', '),
  },
]
</script>

<template>
  <SheetFrame fill title="Access levels" under="Where, and each place during a schedule">
    <template #actions
      ><RouterLink
        v-if="selected.length === 2"
        class="btn"
        :to="`/people/compare?kind=level&a=${selected[0]}&b=${selected[1]}`"
        >Compare the two</RouterLink
      ><RouterLink class="btn btn-amber" to="/people/levels/new">New level</RouterLink></template
    >
    <PeopleTabs />
    <KindTable
      v-model:selected="selected"
      chooses
      kind="level"
      label="Access levels"
      :columns="columns"
      none="None yet. A level says which doors open during which schedule; people have levels."
    />
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>People hold levels; who holds several may come in where any of them says.</p>
        <p>A level that <b>opens the day</b> gives the first card at doors that wait for one of its people.</p>
      </div>
    </template>
  </SheetFrame>
</template>
