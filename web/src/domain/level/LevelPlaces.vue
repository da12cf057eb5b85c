<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PlacePicker from './PlacePicker.vue'

/** Whole places, and single readers: what is added to a place later is meant too. */
const props = defineProps<{ brush: number; sets: Schemas['DoorSet'][] }>()
const entries = defineModel<Schemas['Entry'][]>({ required: true })
const site = useSite()
type Target = Schemas['Target']
const wide = computed(() =>
  entries.value.filter((e) => e.target.kind !== 'door' && e.target.kind !== 'elevator floors'),
)
const words = (t: Target) => site.placeWords(t, (id) => props.sets.find((s) => s.id === id)?.name ?? 'a door set')
const add = (target: Target) => (entries.value = [...entries.value, { target, scheduleId: props.brush }])
const leaving = ref(-1)
const leaveOut = (e: Schemas['Entry'], t: Target) => {
  if (t.kind !== 'everything') e.except = [...(e.except ?? []), t]
  leaving.value = -1
}
const leaveIn = (e: Schemas['Entry'], k: number) => {
  const rest = (e.except ?? []).filter((_, i) => i !== k)
  if (rest.length) e.except = rest
  else delete e.except
}
const takeAway = (e: Schemas['Entry']) => (entries.value = entries.value.filter((x) => x !== e))
</script>

<template>
  <section class="card mb-3">
    <div class="card-head py-1.5">
      <h2>Whole places</h2>
      <span class="note">with the doors that are added to them later</span>
    </div>
    <div v-for="(e, i) in wide" :key="i" class="row py-1.5">
      <span class="w-64 min-w-0"
        >{{ words(e.target) }}
        <span v-if="e.target.kind === 'everything'" class="note block text-[12px]"
          >every door, and those added later</span
        >
        <span class="flex flex-wrap items-center gap-x-1.5 text-[12.5px]">
          <template v-for="(x, k) in e.except ?? []" :key="k"
            ><span>{{ k ? '' : 'but not ' }}{{ words(x) }}</span
            ><button
              type="button"
              class="btn btn-quiet min-w-6 px-1 py-0"
              :aria-label="`Leave ${words(x)} in`"
              @click="leaveIn(e, k)"
            >
              ×
            </button></template
          >
          <PlacePicker
            v-if="leaving === i"
            :sets="sets"
            doors
            label="What is left out"
            @chosen="(t) => leaveOut(e, t)"
          />
          <button
            v-else-if="e.target.kind !== 'reader'"
            type="button"
            class="btn btn-quiet px-1 py-0 text-[12.5px]"
            @click="leaving = i"
          >
            leave out …
          </button>
        </span></span
      >
      <ObjectPicker v-model="e.scheduleId" kind="schedule" class="w-56" :label="`Schedule at ${words(e.target)}`" />
      <button
        type="button"
        class="btn btn-quiet ml-auto px-1"
        :aria-label="`Take away ${words(e.target)}`"
        @click="takeAway(e)"
      >
        Take away
      </button>
    </div>
    <div class="row py-1.5">
      <span class="note">Add</span>
      <PlacePicker :sets="sets" @chosen="add" />
    </div>
  </section>
</template>
