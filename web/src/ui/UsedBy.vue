<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { placePath } from '../app/places'
import { useComputed } from '../core/query'
import DataTable, { type Column } from './DataTable.vue'
import PeekName from './PeekName.vue'
import StateBox from './StateBox.vue'

/** What points to a thing, of one kind or of all. */
const props = defineProps<{ id: number; none: string; leaveOut?: string }>()
const route = useRoute()
const query = useComputed(
  'used by',
  () => [props.id],
  (signal) => ask(api.GET('/api/used-by/{id}', { params: { path: { id: props.id } }, signal })),
)
const list = computed(() => (query.data.value ?? []).filter((p) => p.kind !== props.leaveOut))
type Place = Schemas['Place']
const columns: Column<Place>[] = [
  { id: 'name', title: 'Name' },
  { id: 'kind', title: 'Kind', width: '82px' },
]
</script>

<template>
  <h2>Used by</h2>
  <StateBox
    v-if="!query.data.value"
    :loading="query.isPending.value"
    :error="query.error.value"
    :again="() => query.refetch()"
    :rows="2"
  />
  <p v-else-if="!list.length" class="card p-3 text-[13px] text-ash">{{ none }}</p>
  <DataTable
    v-else
    :id="(p: Place) => p.id"
    class="text-[13px]"
    label="Used by"
    :columns="columns"
    :rows="list"
    :name="(p: Place) => p.name"
    :to="(p: Place) => placePath(p.kind, p.id, route.path)"
    :none="none"
  >
    <template #name="{ row: p }"
      ><PeekName :id="p.id" :kind="p.kind" :name="p.name" class="relative" @click.stop
    /></template>
    <template #kind="{ row: p }"
      ><span class="note">{{ p.kind }}</span></template
    >
  </DataTable>
</template>
