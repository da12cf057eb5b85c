<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import type { Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import DoorTree from '../../ui/DoorTree.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { many } from '../../words'
import { ofDoor, tick } from './entries'

/** The doors of a level, one by one: which, and each during which schedules. */
const props = defineProps<{ brush: number; sets: Schemas['DoorSet'][] }>()
const entries = defineModel<Schemas['Entry'][]>({ required: true })
const site = useSite()
type Row = { id: number; name: string; place: string }

const had = new Map<number, Schemas['Entry'][]>() // what a door had before it was unticked
const doors = computed(() => [
  ...new Set(entries.value.flatMap((e) => (e.target.kind === 'door' ? [e.target.id!] : []))),
])
const changed = (touched: number[], on: boolean) => (entries.value = tick(entries.value, touched, on, props.brush, had))

/** Floors are told with their site where the doors are at several. */
const several = computed(() => new Set(doors.value.map((id) => site.door(id)?.siteId)).size > 1)
const rows = computed<Row[]>(() =>
  doors.value.map((id) => {
    const d = site.door(id)
    return { id, name: d?.name ?? 'removed', place: d ? (several.value ? `${d.floor}, ${d.site}` : d.floor) : '' }
  }),
)
const { nameOf } = useNames(() => entries.value.map((e) => e.scheduleId))
/** The whole places that a door is in, in words. */
function covering(id: number): string {
  const d = site.door(id)
  const inside = (t: Schemas['Target']) =>
    t.kind === 'everything' ||
    (t.kind === 'floor' && t.id === d?.floorId) ||
    (t.kind === 'site' && t.id === d?.siteId) ||
    (t.kind === 'reader' && t.id === id) ||
    (t.kind === 'door set' && props.sets.some((s) => s.id === t.id && s.doorIds.includes(id)))
  const by = entries.value.filter((e) => e.target.kind !== 'door' && inside(e.target))
  return by.length
    ? `by ${by.map((e) => site.placeWords(e.target, (s) => props.sets.find((x) => x.id === s)?.name ?? 'a door set')).join(', ')}`
    : ''
}
/** The door whose schedules are being chosen. */
const at = shallowRef(0)
const selected = shallowRef<number[]>([])
const columns: Column<Row>[] = [
  { id: 'name', title: 'Door', width: '132px' },
  { id: 'place', title: 'Place', width: '138px', text: (r) => r.place },
  { id: 'schedule', title: 'During' },
]
const scheduleNames = (id: number) =>
  ofDoor(entries.value, id)
    .map((e) => nameOf(e.scheduleId))
    .join(', ')
function during(ids: number[], schedule: number) {
  if (!schedule) return
  const those = new Set(ids)
  const seen = new Set<number>()
  entries.value = entries.value.flatMap((e) => {
    if (e.target.kind !== 'door' || !those.has(e.target.id!)) return [e]
    if (seen.has(e.target.id!)) return []
    seen.add(e.target.id!)
    return [{ ...e, scheduleId: schedule }]
  })
}
</script>

<template>
  <div class="grid min-h-0 grid-cols-[262px_minmax(0,1fr)] gap-3 max-lg:grid-cols-1">
    <section class="card flex h-[430px] flex-col" aria-label="Doors to choose">
      <div class="card-head py-1.5">
        <h2>Doors</h2>
        <span class="note">{{ many(doors.length, 'door', 'doors') }}</span>
      </div>
      <DoorTree :model-value="doors" label="Doors of the level" class="flex-1" @changed="changed">
        <template #row="{ row }"
          ><span v-if="row.kind === 'door'" class="note ml-auto truncate text-[12px]">{{
            covering(row.id)
          }}</span></template
        >
      </DoorTree>
    </section>
    <section class="flex h-[430px] flex-col" aria-label="Doors of the level, and when">
      <DataTable
        :id="(r: Row) => r.id"
        v-model:selected="selected"
        label="Doors and their schedules"
        :columns="columns"
        :rows="rows"
        :name="(r: Row) => r.name"
        chooses
        none="No door is chosen yet. Tick doors on the left, floor by floor or one by one."
        @open="(r: Row) => (at = r.id)"
      >
        <template #schedule="{ row }">
          <ObjectPicker
            v-if="at === row.id && ofDoor(entries, row.id).length === 1"
            :model-value="ofDoor(entries, row.id)[0]!.scheduleId"
            kind="schedule"
            :label="`Schedule at ${row.name}`"
            @click.stop
            @update:model-value="(s: number) => during([row.id], s)"
          />
          <button
            v-else
            type="button"
            tabindex="-1"
            class="max-w-full truncate text-left underline decoration-dotted underline-offset-3"
            :aria-label="`Schedule at ${row.name}: ${scheduleNames(row.id)}`"
            @click.stop="at = row.id"
          >
            {{ scheduleNames(row.id) }}
          </button>
        </template>
        <template #bulk>
          <ObjectPicker
            :model-value="0"
            kind="schedule"
            class="w-52"
            label="Schedule of the doors that are chosen"
            placeholder="Open them during …"
            @chosen="(s: number) => during(selected, s)"
          />
          <button type="button" class="btn px-2 py-0.5" @click="() => (changed(selected, false), (selected = []))">
            Take away
          </button>
        </template>
      </DataTable>
    </section>
  </div>
</template>
