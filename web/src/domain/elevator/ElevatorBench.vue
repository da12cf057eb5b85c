<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import type { Bench, Hand } from '../door/useBench'
import ShaftDrawing from './ShaftDrawing.vue'
import { button } from './useShaft'

/** The car at the bench: somebody inside presses a floor, and rides where its relay is on. */
const props = defineProps<{ bench: Bench; door: Schemas['Door']; now: number; play: (h: Hand) => Promise<unknown> }>()
const chosen = ref(0)
const car = ref(props.bench.floors?.[0]?.floorId ?? 0)
const told = ref('')
const floors = computed(() => props.bench.floors ?? [])
const name = (id: number) => {
  const f = floors.value.find((x) => x.floorId === id)
  return f ? `${button(f.level)}, ${f.name}` : ''
}
async function press(id: number) {
  await props.play({ do: 'floor', floorId: id })
  if (props.bench.rode === id) {
    car.value = id
    told.value = `Rides to ${name(id)}.`
  } else told.value = `The button of ${name(id)} stays dark: its relay is off, and the car stays.`
}
</script>

<template>
  <p class="border-b border-seam px-3.5 py-2 text-[13.5px]" role="status" aria-label="The car">
    {{ told || `Stands at ${name(car)}. Present a card, then press a floor in the drawing.` }}
    <span v-if="!door.car?.buttons?.length" class="note"
      >Its buttons are not wired back: no log tells who went where.</span
    >
  </p>
  <ShaftDrawing
    v-model:chosen="chosen"
    :floors="floors"
    :mode="bench.mode"
    :now="now"
    :car="car"
    label="Floor buttons in the car, the highest first"
    @press="press"
  />
</template>
