<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import StateBox from '../../ui/StateBox.vue'
import ElevatorForm from './ElevatorForm.vue'
import FloorCard from './FloorCard.vue'
import LouderLog from './LouderLog.vue'
import ShaftDrawing from './ShaftDrawing.vue'
import WalkFloors from './WalkFloors.vue'
import { useShaft } from './useShaft'

/** An elevator in Build and Hours: its shaft as it is now, one floor whole, the walk, and what it is made of. */
const props = defineProps<{ id: number; mode: string; lacks: Record<string, string>; form?: boolean }>()
const door = defineModel<Schemas['Door']>({ required: true })
const { query, shaft, now } = useShaft(() => props.id)
const chosen = ref(0)
const floors = computed(() => shaft.value?.floors ?? [])
watch(
  floors,
  (list) => {
    if (!list.some((f) => f.floorId === chosen.value)) chosen.value = list.at(-1)?.floorId ?? 0
  },
  { immediate: true },
)
const floor = computed(() => floors.value.find((f) => f.floorId === chosen.value))
const stop = computed({
  get: () => door.value.car!.stops.find((s) => s.floorId === chosen.value),
  set: (s) => s && (door.value.car!.stops = door.value.car!.stops.map((x) => (x.floorId === s.floorId ? s : x))),
})
const fire = computed(() =>
  door.value.car!.fire === 'drop'
    ? 'drops; the elevator’s own service decides'
    : 'released; the elevator’s own service decides',
)
</script>

<template>
  <StateBox
    v-if="!shaft"
    :loading="query.isPending.value"
    :error="query.error.value"
    :again="() => query.refetch()"
    :rows="8"
    what="This elevator"
  />
  <div v-else class="mb-3 grid grid-cols-[minmax(0,1fr)_300px] items-start gap-3 max-xl:grid-cols-1">
    <section class="card" aria-label="The shaft">
      <div class="card-head">
        <h2>The shaft</h2>
        <span class="note">{{
          shaft.live
            ? 'as its controller says now; choose a floor'
            : 'by plan and schedules; its controller does not answer'
        }}</span>
      </div>
      <ShaftDrawing v-model:chosen="chosen" :floors="floors" :mode="mode" :now="now" />
    </section>
    <div class="space-y-3">
      <FloorCard
        v-if="floor"
        :id="id"
        v-model="stop"
        :floor="floor"
        :select="door.unlock"
        :controller="door.controllerId"
        :fire="fire"
        :live="shaft.live"
      />
      <WalkFloors
        v-if="form"
        :id="id"
        v-model:chosen="chosen"
        :floors="floors"
        :controller="door.controllerId"
        :live="shaft.live"
      />
      <LouderLog v-if="form" :id="id" :shaft="shaft" />
    </div>
  </div>
  <section v-if="form" class="card mb-3">
    <div class="card-head">
      <h2>Build</h2>
      <span class="note">the lowest floor has the first relay, unless you say otherwise</span>
    </div>
    <ElevatorForm :id="id" v-model="door" :lacks="lacks" />
  </section>
</template>
