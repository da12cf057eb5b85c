<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import FormField from '../../ui/FormField.vue'
import { useSite } from '../../core/site'
import DoorLock from './DoorLock.vue'
import DoorReader from './DoorReader.vue'
import DoorTimings from './DoorTimings.vue'

const door = defineModel<Schemas['Door']>({ required: true })
defineProps<{ id: number; lacks: Record<string, string> }>()
const site = useSite()

const ports = useComputed(
  'ports',
  () => [door.value.controllerId],
  (signal) =>
    ask(api.GET('/api/controllers/{id}/ports', { params: { path: { id: door.value.controllerId } }, signal })),
  () => door.value.controllerId > 0,
)
/** A new floor, above the others of the site that the door is at. */
async function newFloor(name: string) {
  const sites = site.overview!.sites
  const here = sites.find((s) => s.floors.some((f) => f.id === door.value.floorId)) ?? sites[0]
  return here && site.addFloor(here.id, name)
}
const own = computed(() => Object.entries(door.value.points ?? {}).filter(([, at]) => at))
function setOut(on: boolean) {
  door.value.out = on ? { fitted: true, keypad: false } : { fitted: false, keypad: false }
}
</script>

<template>
  <div class="space-y-4 p-3.5">
    <div class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
      <FormField v-slot="f" of="Door" field="name"
        ><input v-model="door.name" v-bind="f.bind" class="field" :autofocus="!door.id"
      /></FormField>
      <FormField v-slot="f" of="Door" field="floorId">
        <ObjectPicker
          :id="f.id"
          v-model="door.floorId"
          kind="floor"
          label="Floor"
          :words="site.floorWords"
          :make="newFloor"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
      <FormField v-slot="f" of="Door" field="controllerId">
        <ObjectPicker
          :id="f.id"
          v-model="door.controllerId"
          kind="controller"
          label="Controller"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
      <FormField v-slot="f" of="Door" field="port">
        <select v-model.number="door.port" v-bind="f.bind" class="field">
          <option v-if="!ports.data.value?.some((p) => p.port === door.port)" :value="door.port">
            {{ door.port || 'none is free' }}
          </option>
          <option
            v-for="p in ports.data.value ?? []"
            :key="p.port"
            :value="p.port"
            :disabled="!!p.door && p.door !== id"
          >
            {{ p.port }}{{ p.door && p.door !== id ? ` · ${p.name}` : '' }}
          </option>
        </select>
      </FormField>
      <FormField v-slot="f" of="Door" field="planId">
        <ObjectPicker
          :id="f.id"
          v-model="door.planId"
          kind="plan"
          label="Passage plan"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
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
