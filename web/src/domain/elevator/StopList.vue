<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** The floors that a car serves and the relay of each, the lowest last as in the shaft. */
const stops = defineModel<Schemas['Stop'][]>({ required: true })
const site = useSite()
const floors = computed(
  () => new Map((site.overview?.sites ?? []).flatMap((s) => s.floors.map((f) => [f.id, { ...f, siteId: s.id }]))),
)
const siteId = computed(() => floors.value.get(stops.value[0]?.floorId ?? 0)?.siteId ?? site.overview?.sites[0]?.id)
const level = (id: number) => floors.value.get(id)?.level ?? 0
const rows = computed(() => stops.value.map((s, i) => ({ s, i })).reverse())
const upward = computed(() => stops.value.every((s, i) => s.relay === i + 1))
/** A floor comes in at its place in the building, with the next relay. */
function add(id: number) {
  if (!id) return
  const relay = Math.max(0, ...stops.value.map((s) => s.relay)) + 1
  stops.value = [...stops.value, { floorId: id, relay }].sort((a, b) => level(a.floorId) - level(b.floorId))
}
const number = () => (stops.value = stops.value.map((s, i) => ({ ...s, relay: i + 1 })))
const makeFloor = (name: string) => site.addFloor(siteId.value!, name)
</script>

<template>
  <fieldset class="border-t border-seam pt-3">
    <legend class="sr-only">Floors</legend>
    <div class="mb-1 flex items-center justify-between gap-3">
      <FormField v-slot="f" of="Car" field="stops" path="car.stops"
        ><span v-bind="f.bind" class="note"
          >{{ stops.length }} floors; only those that are in use are shown</span
        ></FormField
      >
      <button v-if="!upward" type="button" class="btn px-2.5 py-1" @click="number">Number the relays upward</button>
    </div>
    <div class="max-h-[360px] overflow-auto rounded-md border border-seam">
      <div v-for="{ s, i } in rows" :key="s.floorId" class="row py-1 text-[13.5px]">
        <span class="w-8 text-right font-mono">{{ String(level(s.floorId)).replace('-', '−') }}</span>
        <FormField v-slot="f" of="Stop" field="floorId" :path="`car.stops[${i}].floorId`" quiet class="min-w-0 flex-1"
          ><span v-bind="f.bind" class="block truncate">{{ floors.get(s.floorId)?.name ?? 'removed' }}</span></FormField
        >
        <FormField v-slot="f" of="Stop" field="freeId" :path="`car.stops[${i}].freeId`" quiet
          ><span v-bind="f.bind" class="note text-[12px]">{{ s.freeId ? 'free by a schedule' : '' }}</span></FormField
        >
        <FormField v-slot="f" of="Stop" field="relay" :path="`car.stops[${i}].relay`" quiet
          ><span class="flex items-center gap-1.5"
            ><span class="note" aria-hidden="true">relay</span
            ><input v-model.number="s.relay" v-bind="f.bind" type="number" class="field w-20! py-0.5 font-mono" /></span
        ></FormField>
        <button
          type="button"
          class="btn btn-quiet px-1"
          :aria-label="`Take out ${floors.get(s.floorId)?.name}`"
          @click="stops = stops.filter((x) => x !== s)"
        >
          Take out
        </button>
      </div>
    </div>
    <ObjectPicker
      :model-value="0"
      kind="floor"
      class="mt-2 w-72"
      label="Add a floor"
      placeholder="Add a floor"
      :where="siteId ? [`siteId=${siteId}`] : []"
      :leave-out="stops.map((s) => s.floorId)"
      :make="makeFloor"
      @chosen="add"
    />
  </fieldset>
</template>
