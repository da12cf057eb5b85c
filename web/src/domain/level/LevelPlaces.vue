<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PlacePicker from './PlacePicker.vue'

/** Whole places, and single readers: what is added to a place later is meant too. */
const props = defineProps<{ brush: number; sets: Schemas['DoorSet'][] }>()
const entries = defineModel<Schemas['Entry'][]>({ required: true })
const site = useSite()
type Target = Schemas['Target']
const wide = computed(() => entries.value.filter((e) => e.target.kind !== 'door'))
const words = (t: Target) => site.placeWords(t, (id) => props.sets.find((s) => s.id === id)?.name ?? 'a door set')
const add = (target: Target) => (entries.value = [...entries.value, { target, scheduleId: props.brush }])
const takeAway = (e: Schemas['Entry']) => (entries.value = entries.value.filter((x) => x !== e))
</script>

<template>
  <section class="card mb-3">
    <div class="card-head py-1.5">
      <h2>Whole places</h2>
      <span class="note">with the doors that are added to them later</span>
    </div>
    <div v-for="(e, i) in wide" :key="i" class="row py-1.5">
      <span class="w-64 truncate">{{ words(e.target) }}</span>
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
