<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import FormField from '../../ui/FormField.vue'

/** How a controller gets its address: by itself, or a fixed one, with a free one proposed. */
const network = defineModel<Schemas['Network']>({ required: true })
const props = defineProps<{ id?: number; fields?: Record<string, string> }>()
const query = useComputed(
  'address sums',
  () => [props.id ?? 0],
  (signal) => ask(api.GET('/api/controllers/{id}/address', { params: { path: { id: props.id ?? 0 } }, signal })),
)
const sums = computed(() => query.data.value)
const set = (part: Partial<Schemas['Network']>) => (network.value = { ...network.value, ...part })
const fix = (on: boolean) =>
  (network.value = on
    ? { ...network.value, fixed: true, address: network.value.address || sums.value?.proposed || '' }
    : { ...(network.value.vlan ? { vlan: network.value.vlan } : {}) })
const value = (e: Event) => (e.target as HTMLInputElement).value.trim()
const wrong = (k: string) => props.fields?.[`network.${k}`]
</script>

<template>
  <div class="space-y-2 text-[13px]">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
      <span class="label">Address</span>
      <label class="flex items-center gap-1.5"
        ><input type="radio" :checked="!network.fixed" @change="fix(false)" /> automatic</label
      >
      <label class="flex items-center gap-1.5"
        ><input type="radio" :checked="!!network.fixed" @change="fix(true)" /> fixed</label
      >
      <label class="ml-auto flex items-center gap-1.5 text-ash"
        >VLAN
        <input
          class="field w-20! py-0.5 font-mono"
          type="number"
          min="0"
          max="4094"
          :value="network.vlan || ''"
          @change="set({ vlan: Number(value($event)) || undefined })"
      /></label>
    </div>
    <div v-if="network.fixed" class="grid grid-cols-2 gap-3">
      <FormField v-slot="f" label="Address with prefix" :problem="wrong('address')"
        ><input
          :id="f.id"
          class="field font-mono"
          :value="network.address"
          :aria-invalid="f.invalid"
          placeholder="10.20.0.31/24"
          @change="set({ address: value($event) })"
      /></FormField>
      <FormField v-slot="f" label="Gateway" :problem="wrong('gateway')"
        ><input
          :id="f.id"
          class="field font-mono"
          :value="network.gateway ?? ''"
          :aria-invalid="f.invalid"
          placeholder="none"
          @change="set({ gateway: value($event) || undefined })"
      /></FormField>
      <p v-if="sums" class="note col-span-2 text-[12px]">
        This computer is in {{ sums.hosts.join(', ') }}.
        <button
          v-if="sums.proposed && sums.proposed !== network.address"
          type="button"
          class="underline"
          @click="set({ address: sums.proposed })"
        >
          {{ sums.proposed }} is free
        </button>
      </p>
    </div>
  </div>
</template>
