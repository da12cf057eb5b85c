<script setup lang="ts" generic="K extends NamedKind">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { placePath } from '../app/places'
import { useListAddress } from '../core/address'
import { useKeys } from '../core/keys'
import { useList, type NamedKind, type Objects } from '../core/query'
import DataTable, { type Column } from './DataTable.vue'

type R = { value: Objects[K]; rev: number; used: Record<string, number> }

/** The objects of a kind as a table: found, filtered and sorted in the server, as the address says. */
const props = defineProps<{
  kind: K
  label: string
  columns: Column<R>[]
  none: string
  placeholder?: string
  chooses?: boolean
  preset?: string[]
}>()
const selected = defineModel<number[]>('selected', { default: () => [] })
const route = useRoute()
const { q, sort, params, filtered } = useListAddress()
const field = ref<HTMLInputElement>()
const list = useList(
  () => props.kind,
  () => ({ ...params.value, ...(props.preset ? { where: [...(params.value.where ?? []), ...props.preset] } : {}) }),
)
const rows = computed<R[]>(() =>
  (list.data.value?.pages ?? []).flatMap((p) =>
    p.items.map((i, k) => ({ ...(i as { value: Objects[K]; rev: number }), used: p.used[k] ?? {} })),
  ),
)
const total = computed(() => list.data.value?.pages[0]?.total ?? 0)
const query = computed(() => {
  const s = new URLSearchParams()
  for (const [k, v] of Object.entries(params.value)) for (const x of [v].flat()) s.append(k, String(x))
  return s.size ? `?${s}` : ''
})
const to = (r: R) => placePath(props.kind, r.value.id, route.path) + query.value
useKeys('This list', [{ keys: '/', what: 'Find in the list', run: () => field.value?.focus() }])
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <input
        ref="field"
        v-model="q"
        class="field w-64!"
        type="search"
        :placeholder="placeholder ?? 'Find by name'"
        :aria-label="`Find in ${label}`"
        @keydown.esc="q = ''"
      />
      <slot name="filters" />
    </div>
    <DataTable
      :id="(r: R) => r.value.id"
      v-model:sort="sort"
      v-model:selected="selected"
      :label="label"
      :columns="columns"
      :rows="rows"
      :name="(r: R) => r.value.name"
      :to="to"
      :total="total"
      :loading="list.isPending.value"
      :error="list.error.value"
      :again="() => list.refetch()"
      :more="() => !list.isFetchingNextPage.value && list.fetchNextPage()"
      :has-more="list.hasNextPage.value"
      :none="none"
      :filtered="filtered"
      :chooses="chooses"
    >
      <template v-for="c in columns.filter((x) => $slots[x.id])" :key="c.id" #[c.id]="{ row, index }"
        ><slot :name="c.id" :row="row" :index="index"
      /></template>
      <template #bulk><slot name="bulk" /></template>
    </DataTable>
  </div>
</template>
