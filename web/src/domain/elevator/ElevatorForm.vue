<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import DoorPlace from '../door/DoorPlace.vue'
import DoorReader from '../door/DoorReader.vue'
import StopList from './StopList.vue'

/** An elevator's build: what it is called, where its readers are, which floors by which relays, and its times. */
const door = defineModel<Schemas['Door']>({ required: true })
defineProps<{ id: number; lacks: Record<string, string> }>()
const car = computed(() => door.value.car!)
/** Addresses as people write them: 1, 2. */
const list = (text: string) => (text.match(/\d+/g) ?? []).map(Number)
const written = (of: number[] | undefined) => (of ?? []).join(', ')
const setButtons = (text: string) => {
  const of = list(text)
  if (of.length) car.value.buttons = of
  else delete car.value.buttons
}
const second = (on: boolean) =>
  (door.value.out = on ? { fitted: true, keypad: false } : { fitted: false, keypad: false })
const checked = (e: Event) => (e.target as HTMLInputElement).checked
const text = (e: Event) => (e.target as HTMLInputElement).value
</script>

<template>
  <div class="space-y-4 p-3.5">
    <div class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
      <DoorPlace :id="id" v-model="door" floor-label="Stands in the list at" port-label="Port of its readers" />
      <div class="grid grid-cols-2 gap-3">
        <FormField v-slot="f" of="Door" field="unlock" label="Select time"
          ><input v-model.number="door.unlock" v-bind="f.bind" type="number" class="field font-mono"
        /></FormField>
        <FormField v-slot="f" of="Door" field="extended" label="For those who need longer"
          ><input v-model.number="door.extended" v-bind="f.bind" type="number" class="field font-mono"
        /></FormField>
      </div>
      <FormField v-slot="f" of="Car" field="boards" path="car.boards"
        ><input
          v-bind="f.bind"
          class="field font-mono"
          :value="written(car.boards)"
          placeholder="1, 2"
          @change="car.boards = list(text($event))"
      /></FormField>
      <FormField v-slot="f" of="Car" field="buttons" path="car.buttons"
        ><input
          v-bind="f.bind"
          class="field font-mono"
          :value="written(car.buttons)"
          placeholder="not wired back"
          @change="setButtons(text($event))"
      /></FormField>
      <FormField v-slot="f" of="Car" field="fire" path="car.fire" class="col-span-2 max-sm:col-span-1">
        <ChoiceBar
          v-model="car.fire"
          v-bind="f.bind"
          label="In a fire release"
          :choices="[
            { value: 'drop' as const, name: 'floor relays drop; the elevator’s service takes over' },
            { value: 'release' as const, name: 'every floor is released' },
          ]"
        />
      </FormField>
      <p class="note col-span-2 flex flex-wrap items-center gap-x-4 text-ink max-sm:col-span-1">
        <FormField v-slot="f" of="Car" field="freight" path="car.freight" quiet
          ><label class="flex min-h-[26px] items-center gap-1.5"
            ><input v-model="car.freight" v-bind="f.bind" type="checkbox" /> carries goods: “all elevators” in a level
            should leave it out</label
          ></FormField
        >
        <label class="flex min-h-[26px] items-center gap-1.5"
          ><input v-model="door.outOfUse" type="checkbox" /> out of use</label
        >
        <label class="flex min-h-[26px] items-center gap-1.5"
          ><input v-model="door.notFromAfar" type="checkbox" /> not released from a screen</label
        >
      </p>
    </div>
    <fieldset class="border-t border-seam pt-3">
      <legend class="sr-only">Readers</legend>
      <p class="label mb-1">Reader in the car</p>
      <DoorReader v-model="door.in" side="in" car :lacks="lacks" />
      <label class="mt-2 flex items-center gap-1.5"
        ><input type="checkbox" :checked="door.out.fitted" @change="second(checked($event))" /> a second reader in the
        car</label
      >
      <DoorReader v-if="door.out.fitted" v-model="door.out" side="out" car :lacks="lacks" />
    </fieldset>
    <StopList v-model="car.stops" />
    <p v-if="id" class="note border-t border-seam pt-3">
      <RouterLink class="underline" :to="`/build/terminals?controller=${door.controllerId}`"
        >Its relays among the terminals of its controller</RouterLink
      >
    </p>
  </div>
</template>
