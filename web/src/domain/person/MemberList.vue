<script setup lang="ts">
import { computed, watch } from 'vue'
import { api, ask } from '../../api/client'
import { client, fetchObject, keys, useList } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { sure } from '../../ui/sure'
import type { Objects, Versioned } from '../../core/query'

/** The members of a department; somebody comes in or leaves in one step, with what it means said first. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ count: [n: number] }>()
const { attempt, busy, problem } = useAttempt()
type Row = Versioned<Objects['person']>
const list = useList('person', () => ({ where: [`member=${props.id}`] }))
const rows = computed<Row[]>(() => (list.data.value?.pages ?? []).flatMap((p) => p.items))
const total = computed(() => list.data.value?.pages[0]?.total ?? 0)
watch(total, (n) => emit('count', n), { immediate: true })
const columns: Column<Row>[] = [
  { id: 'name', title: 'Members', text: (r) => r.value.name },
  { id: 'number', title: 'No.', width: '80px', text: (r) => r.value.number ?? '' },
  { id: 'out', title: '', width: '92px' },
]

/** Moves somebody in or out, once what they lose and gain has been read. */
const move = (id: number, into: boolean) =>
  attempt(async () => {
    const { rev, value } = await fetchObject('person', id)
    value.departmentIds = into
      ? [...value.departmentIds.filter((d) => d !== props.id), props.id]
      : value.departmentIds.filter((d) => d !== props.id)
    const e = await ask(api.POST('/api/hours/effect', { body: { person: value } }))
    const title = into ? `Take ${value.name} in?` : `Let ${value.name} leave?`
    if (!(await sure(title, `${e.sentence} It takes effect once sent.`, into ? 'Take them in' : 'Let them leave')))
      return
    client.setQueryData(
      keys.object('person', id),
      await ask(api.PUT('/api/people/{id}', { params: { path: { id } }, body: { rev, value } })),
    )
    await list.refetch()
  })
</script>

<template>
  <section class="flex h-[320px] flex-col" aria-label="Members">
    <p v-if="problem" role="alert" class="mb-1 font-semibold text-wine">{{ problem }}</p>
    <DataTable
      :id="(r: Row) => r.value.id"
      label="Members"
      :columns="columns"
      :rows="rows"
      :name="(r: Row) => r.value.name"
      :to="(r: Row) => `/people/${r.value.id}?where=member%3D${id}`"
      :total="total"
      :loading="list.isPending.value"
      :error="list.error.value"
      :again="() => list.refetch()"
      :more="() => !list.isFetchingNextPage.value && list.fetchNextPage()"
      :has-more="list.hasNextPage.value"
      none="Nobody is in it yet."
    >
      <template #out="{ row }"
        ><button
          type="button"
          class="btn btn-quiet relative px-1 py-0 text-[12.5px]"
          :disabled="busy"
          :aria-label="`Leaves … ${row.value.name}`"
          @click.stop.prevent="move(row.value.id, false)"
        >
          Leaves …
        </button></template
      >
    </DataTable>
    <div class="mt-2 flex items-center gap-2">
      <span class="note">Take in</span>
      <ObjectPicker
        :model-value="0"
        kind="person"
        class="w-64"
        label="Take somebody into the department"
        placeholder="Name, number or card"
        @chosen="(p: number) => p && move(p, true)"
      />
    </div>
  </section>
</template>
