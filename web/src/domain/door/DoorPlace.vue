<script setup lang="ts">
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** What a door or an elevator is called, on which floor, at which controller and port, and the plan that it follows. */
const door = defineModel<Schemas['Door']>({ required: true })
defineProps<{ id: number; floorLabel?: string; portLabel?: string }>()
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
</script>

<template>
  <FormField v-slot="f" of="Door" field="name"
    ><input v-model="door.name" v-bind="f.bind" class="field" :autofocus="!door.id"
  /></FormField>
  <FormField v-slot="f" of="Door" field="floorId" :label="floorLabel">
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
  <FormField v-slot="f" of="Door" field="port" :label="portLabel">
    <select v-model.number="door.port" v-bind="f.bind" class="field">
      <option v-if="!ports.data.value?.some((p) => p.port === door.port)" :value="door.port">
        {{ door.port || 'none is free' }}
      </option>
      <option v-for="p in ports.data.value ?? []" :key="p.port" :value="p.port" :disabled="!!p.door && p.door !== id">
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
</template>
