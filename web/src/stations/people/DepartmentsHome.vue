<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { useNames } from '../../core/names'
import { useList, type Objects } from '../../core/query'
import { useListAddress } from '../../core/address'
import type { Column } from '../../ui/DataTable.vue'
import KindTable from '../../ui/KindTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import PeopleTabs from './PeopleTabs.vue'

type Row = { value: Objects['department']; rev: number; used: Record<string, number> }
const columns: Column<Row>[] = [
  { id: 'name', title: 'Department', sort: 'name' },
  { id: 'members', title: 'People', width: '90px', sort: 'members', text: (r) => String(r.used.person ?? 0) },
  { id: 'levels', title: 'Gives', width: 'minmax(0,1.6fr)' },
  { id: 'marks', title: '', width: '150px', from: 560 },
]
const { params } = useListAddress()
const list = useList('department', params)
const { nameOf } = useNames(() =>
  (list.data.value?.pages ?? []).flatMap((p) => p.items.flatMap((i) => i.value.levels.map((g) => g.levelId ?? 0))),
)
const gives = (d: Objects['department']) => {
  const places = d.levels.filter((g) => !g.levelId).length
  return [
    ...d.levels.filter((g) => g.levelId).map((g) => nameOf(g.levelId!)),
    ...(places ? [`${places} ${places === 1 ? 'place' : 'places'}`] : []),
  ].join(', ')
}
</script>

<template>
  <SheetFrame fill title="Departments" under="People who hold the same: what a department is given, its members have">
    <template #actions
      ><RouterLink class="btn btn-amber" to="/people/departments/new">New department</RouterLink></template
    >
    <PeopleTabs />
    <KindTable
      kind="department"
      label="Departments"
      :columns="columns"
      none="None yet. A department gives its members access levels; somebody who leaves it loses them."
    >
      <template #levels="{ row }"
        ><span class="text-[13px]">{{ gives(row.value) || 'nothing' }}</span></template
      >
      <template #marks="{ row }"
        ><span class="note text-[12.5px]">{{
          [row.value.alwaysPin ? 'always with PIN' : '', row.value.extendedTime ? 'longer to pass' : '']
            .filter(Boolean)
            .join(', ')
        }}</span></template
      >
    </KindTable>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>What a department is given is not copied: change it here, and it changes for all.</p>
        <p>What somebody is given themselves adds to it.</p>
      </div>
    </template>
  </SheetFrame>
</template>
