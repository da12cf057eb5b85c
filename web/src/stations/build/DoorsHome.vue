<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useListAddress } from '../../core/address'
import { useNames } from '../../core/names'
import { useList, type Objects } from '../../core/query'
import { useSite } from '../../core/site'
import type { Column } from '../../ui/DataTable.vue'
import KindTable from '../../ui/KindTable.vue'
import ModeTile from '../../ui/ModeTile.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { api, ask, type Schemas } from '../../api/client'
import { useLit } from '../../domain/door/lit'
import { useAttempt } from '../../ui/attempt'
import BuildTabs from './BuildTabs.vue'
import EditTogether from './EditTogether.vue'

type Row = { value: Objects['door']; rev: number; used: Record<string, number> }
const site = useSite()
const { params, condition } = useListAddress()
const asNumber = (of: string) => {
  const c = condition(of)
  return computed({ get: () => Number(c.value || 0), set: (v) => (c.value = v ? String(v) : '') })
}
const controllerId = asNumber('controllerId')
const planId = asNumber('planId')
const selected = ref<number[]>([])

const columns: Column<Row>[] = [
  { id: 'name', title: 'Door', width: '190px', sort: 'name' },
  { id: 'floor', title: 'Floor', sort: 'floor', text: (r) => site.door(r.value.id)?.floor ?? nameOf(r.value.floorId) },
  { id: 'controller', title: 'Controller', width: '150px', from: 560, sort: 'controller' },
  { id: 'plan', title: 'Plan', width: '150px', from: 640, sort: 'plan', text: (r) => nameOf(r.value.planId) },
]
const list = useList('door', params)
const { nameOf } = useNames(() =>
  (list.data.value?.pages ?? []).flatMap((p) =>
    p.items.flatMap((i) => [i.value.controllerId, i.value.planId, i.value.floorId]),
  ),
)
const lit = useLit()
const together = ref(false)
const { attempt, busy, problem } = useAttempt()
const told = ref('')
const was = ref<Schemas['VersionedDoor'][]>([])
function changed(before: Schemas['VersionedDoor'][], words: string) {
  together.value = false
  was.value = before
  told.value = words
}
const putBack = () =>
  attempt(async () => {
    await ask(api.PUT('/api/doors-together', { body: { doors: was.value } }))
    told.value = 'As it was before.'
    was.value = []
  })
const those = computed(() => selected.value.slice(0, 500).join(','))
</script>

<template>
  <SheetFrame fill title="Doors" under="Where each is, what it is wired to, and which plan it follows">
    <template #actions>
      <RouterLink v-if="site.units.length" class="btn" to="/build/elevators/new">New elevator</RouterLink>
      <RouterLink v-if="site.units.length" class="btn btn-amber" to="/build/doors/new">New door</RouterLink>
    </template>
    <BuildTabs />
    <p v-if="told" role="status" class="mb-2 font-semibold">
      {{ told }}
      <button v-if="was.length" class="btn ml-2 px-2 py-0.5" :disabled="busy" @click="putBack">Undo</button>
    </p>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <KindTable
      v-model:selected="selected"
      kind="door"
      label="Doors"
      :columns="columns"
      chooses
      none="No door yet. Take a controller into service, then name what is wired to its ports."
    >
      <template #filters>
        <ObjectPicker
          v-model="controllerId"
          kind="controller"
          class="w-44"
          label="Only at a controller"
          :besides="[{ id: 0, name: 'any controller' }]"
        />
        <ObjectPicker
          v-model="planId"
          kind="plan"
          class="w-44"
          label="Only with a plan"
          :besides="[{ id: 0, name: 'any plan' }]"
        />
      </template>
      <template #name="{ row }"
        ><span
          class="flex items-center gap-2"
          :class="lit.has(row.value.id) ? 'animate-pulse rounded bg-amber px-1' : ''"
          :data-lit="lit.has(row.value.id) || undefined"
          ><ModeTile
            v-if="site.door(row.value.id)"
            :mode="site.door(row.value.id)!.mode"
            :waits="site.door(row.value.id)!.waits"
            :dim="site.door(row.value.id)!.offline"
          /><RouterLink
            class="truncate font-semibold hover:underline"
            :to="`/build/doors/${row.value.id}`"
            tabindex="-1"
            @click.stop
            >{{ row.value.name }}</RouterLink
          ><span v-if="row.value.outOfUse" class="pill border border-seam text-ash">out of use</span></span
        ></template
      >
      <template #controller="{ row }"
        >{{ nameOf(row.value.controllerId) }}<span class="text-ash"> · {{ row.value.port }}</span></template
      >
      <template #bulk>
        <button class="btn btn-amber px-2 py-0.5" @click="together = true">Edit together …</button>
        <RouterLink class="btn px-2 py-0.5" :to="`/hours/changes/new?doors=${those}`">New dated change</RouterLink>
        <RouterLink class="btn px-2 py-0.5" :to="`/people/levels/new?doors=${those}`">New access level</RouterLink>
      </template>
    </KindTable>
    <EditTogether v-if="together" :ids="selected" @close="together = false" @done="changed" />
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>A door</b> hangs at a port of a controller, follows a plan, and opens to people whose levels say so.</p>
        <p>
          <b>Which one is this?</b> Present a card there, press its exit button or open it: its row lights up for five
          seconds.
        </p>
        <p>What a door asks now stands before its name; the tree on the left has the same signs.</p>
      </div>
    </template>
  </SheetFrame>
</template>
