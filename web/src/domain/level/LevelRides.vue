<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { button } from '../elevator/useShaft'

/** Elevator floors of a level: each of the chosen floors by each of the chosen elevators that stops there. */
const props = defineProps<{ brush: number }>()
const entries = defineModel<Schemas['Entry'][]>({ required: true })
const site = useSite()
type Entry = Schemas['Entry']
const rides = computed(() =>
  entries.value.map((e, i) => ({ e, i })).filter((x) => x.e.target.kind === 'elevator floors'),
)
const cars = computed(() => site.doors.filter((d) => d.elevator))
const sites = computed(() =>
  (site.overview?.sites ?? [])
    .filter((s) => s.floors.some((f) => f.doors.some((d) => d.elevator)))
    .map((s) => ({ ...s, floors: [...s.floors].sort((a, b) => b.level - a.level) })),
)
const add = () =>
  (entries.value = [
    ...entries.value,
    { target: { kind: 'elevator floors' }, scheduleId: props.brush, ride: { floorIds: [], carIds: [] } },
  ])
const takeAway = (e: Entry) => (entries.value = entries.value.filter((x) => x !== e))
const checked = (e: Event) => (e.target as HTMLInputElement).checked
const put = (list: number[], id: number, on: boolean) => (on ? [...list, id] : list.filter((x) => x !== id))
function all(e: Entry, what: 'Floors' | 'Cars', on: boolean) {
  const r = e.ride!
  const key = `all${what}` as const
  if (on) {
    r[key] = true
    if (what === 'Floors') r.floorIds = []
    else r.carIds = []
  } else delete r[key]
  if (!on && what === 'Cars') delete e.except
}
const out = (e: Entry, id: number) => (e.except ?? []).some((t) => t.kind === 'door' && t.id === id)
/** A car of all elevators is left out rather than ticked. */
function car(e: Entry, id: number, on: boolean) {
  if (!e.ride!.allCars) return void (e.ride!.carIds = put(e.ride!.carIds, id, on))
  const rest = (e.except ?? []).filter((t) => !(t.kind === 'door' && t.id === id))
  const next = on ? rest : [...rest, { kind: 'door' as const, id }]
  if (next.length) e.except = next
  else delete e.except
}
const takes = (e: Entry, id: number) => (e.ride!.allCars ? !out(e, id) : e.ride!.carIds.includes(id))
/** What is missing for anybody to ride. */
function lacks(e: Entry) {
  const r = e.ride!
  if (!r.allFloors && !r.floorIds.length) return 'No floor is chosen: a card releases nothing by this.'
  if (!cars.value.some((d) => takes(e, d.id))) return 'No elevator is chosen: nobody rides by this.'
  return ''
}
</script>

<template>
  <section v-if="cars.length || rides.length" class="card mb-3" aria-label="Elevator floors">
    <div class="card-head py-1.5">
      <h2>Elevator floors</h2>
      <span class="note">each chosen floor by each chosen elevator that stops there</span>
    </div>
    <div v-for="{ e, i } in rides" :key="i" class="border-t border-seam px-3.5 py-2.5 first:border-t-0">
      <div class="grid grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] gap-4 max-lg:grid-cols-1">
        <fieldset>
          <legend class="label">Floors</legend>
          <FormField v-slot="f" of="Ride" field="allFloors" :path="`entries[${i}].ride.allFloors`" quiet
            ><label class="flex min-h-[26px] items-center gap-1.5 text-[13.5px]"
              ><input
                v-bind="f.bind"
                type="checkbox"
                :checked="!!e.ride!.allFloors"
                @change="all(e, 'Floors', checked($event))"
              />
              all floors, those that are added later too</label
            ></FormField
          >
          <FormField v-slot="f" of="Ride" field="floorIds" :path="`entries[${i}].ride.floorIds`" quiet>
            <div v-bind="f.bind" class="max-h-44 overflow-auto" :class="e.ride!.allFloors ? 'opacity-60' : ''">
              <template v-for="s in sites" :key="s.id">
                <p v-if="sites.length > 1" class="note text-[12px]">{{ s.name }}</p>
                <label v-for="x in s.floors" :key="x.id" class="flex min-h-[26px] items-center gap-1.5 text-[13.5px]"
                  ><input
                    type="checkbox"
                    :disabled="!!e.ride!.allFloors"
                    :checked="!!e.ride!.allFloors || e.ride!.floorIds.includes(x.id)"
                    @change="e.ride!.floorIds = put(e.ride!.floorIds, x.id, checked($event))"
                  /><span class="w-6 text-right font-mono">{{ button(x.level) }}</span
                  ><span class="truncate">{{ x.name }}</span></label
                >
              </template>
            </div>
          </FormField>
        </fieldset>
        <fieldset>
          <legend class="label">Elevators</legend>
          <FormField v-slot="f" of="Ride" field="allCars" :path="`entries[${i}].ride.allCars`" quiet
            ><label class="flex min-h-[26px] items-center gap-1.5 text-[13.5px]"
              ><input
                v-bind="f.bind"
                type="checkbox"
                :checked="!!e.ride!.allCars"
                @change="all(e, 'Cars', checked($event))"
              />
              all elevators, later ones too</label
            ></FormField
          >
          <FormField v-slot="f" of="Ride" field="carIds" :path="`entries[${i}].ride.carIds`" quiet>
            <div v-bind="f.bind" class="max-h-44 overflow-auto">
              <label v-for="d in cars" :key="d.id" class="flex min-h-[26px] items-center gap-1.5 text-[13.5px]"
                ><input type="checkbox" :checked="takes(e, d.id)" @change="car(e, d.id, checked($event))" /><span
                  class="truncate"
                  >{{ d.name }}</span
                ><span v-if="e.ride!.allCars && out(e, d.id)" class="note text-[12px]">left out</span></label
              >
            </div>
          </FormField>
        </fieldset>
      </div>
      <div class="mt-2 flex flex-wrap items-center gap-3">
        <span class="label">During</span>
        <ObjectPicker v-model="e.scheduleId" kind="schedule" class="w-56" label="Schedule of these floors" />
        <span v-if="lacks(e)" class="text-[12.5px] font-semibold text-wine">{{ lacks(e) }}</span>
        <button type="button" class="btn btn-quiet ml-auto px-1" @click="takeAway(e)">Take these floors away</button>
      </div>
    </div>
    <div class="row py-1.5">
      <button type="button" class="btn px-2.5 py-1" @click="add">Add elevator floors</button>
      <span v-if="!rides.length" class="note">A whole place above takes in the elevators there, too.</span>
    </div>
  </section>
</template>
