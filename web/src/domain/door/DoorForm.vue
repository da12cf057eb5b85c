<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import FormField from '../../ui/FormField.vue'
import DoorLock from './DoorLock.vue'
import DoorPlace from './DoorPlace.vue'
import DoorReader from './DoorReader.vue'
import DoorTimings from './DoorTimings.vue'

const door = defineModel<Schemas['Door']>({ required: true })
defineProps<{ id: number; lacks: Record<string, string> }>()

const own = computed(() => Object.entries(door.value.points ?? {}).filter(([, at]) => at))
function setOut(on: boolean) {
  door.value.out = on ? { fitted: true, keypad: false } : { fitted: false, keypad: false }
}
</script>

<template>
  <div class="space-y-4 p-3.5">
    <div class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
      <DoorPlace :id="id" v-model="door" />
      <div class="grid grid-cols-2 gap-3">
        <FormField v-slot="f" of="Door" field="outside" label="Outside is"
          ><input v-model="door.outside" v-bind="f.bind" class="field" placeholder="Yard"
        /></FormField>
        <FormField v-slot="f" of="Door" field="inside" label="Inside is"
          ><input v-model="door.inside" v-bind="f.bind" class="field" placeholder="Lobby"
        /></FormField>
      </div>
      <p class="note col-span-2 flex flex-wrap items-center gap-x-3 max-sm:col-span-1">
        <label class="flex min-h-[26px] items-center gap-1.5 text-ink"
          ><input v-model="door.outOfUse" type="checkbox" /> out of use: readers off, lock not driven, settings
          kept</label
        >
        <label class="flex min-h-[26px] basis-full items-center gap-1.5 text-ink"
          ><input v-model="door.notFromAfar" type="checkbox" /> not released or held free from a screen</label
        >
        <FormField v-slot="f" of="Door" field="points" quiet
          ><span v-bind="f.bind"
            ><RouterLink v-if="id" class="underline" :to="`/build/terminals?controller=${door.controllerId}`">{{
              own.length
                ? `Wired to ${own.map(([k, at]) => `${k} ${String(at).toUpperCase()}`).join(', ')}`
                : 'Wired to the terminals of its port'
            }}</RouterLink></span
          ></FormField
        >
      </p>
    </div>
    <fieldset class="border-t border-seam pt-3">
      <legend class="sr-only">Readers</legend>
      <p class="label mb-1">Reader on the way in</p>
      <DoorReader v-model="door.in" side="in" :lacks="lacks" />
      <label class="mt-2 flex items-center gap-1.5"
        ><input
          type="checkbox"
          :checked="door.out.fitted"
          @change="setOut(($event.target as HTMLInputElement).checked)"
        />
        reader on the way out</label
      >
      <DoorReader v-if="door.out.fitted" v-model="door.out" side="out" :lacks="lacks" />
    </fieldset>
    <DoorLock v-model="door" />
    <DoorTimings v-model="door" />
    <p v-if="id" class="note border-t border-seam pt-3">
      When the door waits for a first card, and who gives it, is edited
      <RouterLink class="underline" :to="`/hours/doors/${id}`">in its hours</RouterLink>.
    </p>
  </div>
</template>
