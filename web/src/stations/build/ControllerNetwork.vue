<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import AddressFields from './AddressFields.vue'

/** The address of a controller is given at the place itself at once, not with the rest of the sheet. */
const props = defineProps<{ id: number; stored?: Schemas['Network']; address?: string }>()
const path = { path: { id: props.id } }
const said = ref('')
const network = ref<Schemas['Network']>({})
const placing = useAttempt()
watch(
  () => props.stored,
  (n) => (network.value = { ...n }),
  { immediate: true },
)
const readdressed = computed(() => JSON.stringify(network.value) !== JSON.stringify(props.stored ?? {}))
const networkFaults = computed(() =>
  Object.fromEntries(
    Object.entries(placing.fields.value).map(([k, v]) => [k.startsWith('network.') ? k : `network.${k}`, v]),
  ),
)
const setAddress = () =>
  placing.attempt(async () => {
    said.value = (await ask(api.PUT('/api/controllers/{id}/address', { params: path, body: network.value }))).words
  })
</script>

<template>
  <section class="card self-start" aria-label="Network">
    <div class="card-head">
      <h2>Network</h2>
      <span class="note font-mono">{{ address }}</span>
    </div>
    <form class="space-y-3 p-3.5" @submit.prevent="setAddress">
      <AddressFields :id="id" v-model="network" :fields="networkFaults" />
      <p v-if="placing.problem.value" role="alert" class="font-semibold text-wine">{{ placing.problem.value }}</p>
      <button v-if="readdressed" class="btn btn-amber" :disabled="placing.busy.value">Give it this address</button>
      <p v-if="said" role="status" class="font-semibold">{{ said }}</p>
      <p class="note">It is told at once, and answers there in a moment.</p>
    </form>
  </section>
</template>
