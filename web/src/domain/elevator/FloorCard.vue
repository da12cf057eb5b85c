<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { button, type Floor } from './useShaft'

/** One floor of a car: its relay, when nobody needs a card for it, and what may be done with it now. */
const props = defineProps<{
  id: number
  floor: Floor
  select: number
  controller: number
  fire: string
  live: boolean
}>()
const stop = defineModel<Schemas['Stop'] | undefined>({ required: true })
const { attempt, busy, problem } = useAttempt()
const told = ref('')
watch(
  () => props.floor.floorId,
  () => (told.value = problem.value = ''),
)
const never = [{ id: 0, name: 'no schedule' }]
const free = computed({
  get: () => stop.value?.freeId ?? 0,
  set: (id: number) => {
    if (!stop.value) return
    const rest = { ...stop.value }
    delete rest.freeId
    stop.value = id ? { ...rest, freeId: id } : rest
  },
})
const release = () =>
  attempt(async () => {
    const body = {
      what: 'release' as const,
      targets: [{ kind: 'door' as const, id: props.id }],
      floors: [props.floor.floorId],
    }
    const a = await ask(api.POST('/api/orders', { body }))
    told.value = a.answers[0]?.reached ? `${props.floor.name} released by hand` : (a.answers[0]?.words ?? a.words)
  })
const pulse = () =>
  attempt(async () => {
    await ask(
      api.POST('/api/controllers/{id}/try', {
        params: { path: { id: props.controller } },
        body: { at: props.floor.at },
      }),
    )
    told.value = `Relay ${props.floor.relay} is on for 3 s: the button ${button(props.floor.level)} in the car should be lit.`
  })
</script>

<template>
  <section class="card" :aria-label="`Floor ${floor.name}`">
    <div class="card-head">
      <h2>{{ button(floor.level) }} · {{ floor.name }}</h2>
    </div>
    <dl class="grid grid-cols-[84px_minmax(0,1fr)] gap-y-2 px-3.5 py-3 text-[13.5px]">
      <dt class="text-ash">Relay</dt>
      <dd class="font-mono text-[13px]">{{ floor.relay }} · {{ floor.at ? floor.at : 'no expander for it' }}</dd>
      <dt class="self-center text-ash">Free by</dt>
      <dd>
        <ObjectPicker v-if="stop" v-model="free" kind="schedule" label="Free by" :besides="never" />
        <template v-else>{{ floor.schedule || 'no schedule' }}</template>
      </dd>
      <dt class="text-ash">Select time</dt>
      <dd>{{ select }} s</dd>
      <dt class="text-ash">Fire</dt>
      <dd>{{ fire }}</dd>
    </dl>
    <div v-if="id" class="flex flex-wrap gap-2 border-t border-seam px-3.5 py-2.5">
      <button type="button" class="btn px-2.5 py-1" :disabled="busy || !live" @click="release">
        Release {{ select }} s
      </button>
      <button type="button" class="btn px-2.5 py-1" :disabled="busy || !live || !floor.at" @click="pulse">
        Pulse to test
      </button>
      <p v-if="!live" class="note basis-full">Its controller does not answer, or does not hold it yet.</p>
    </div>
    <p v-if="problem" role="alert" class="px-3.5 pb-2.5 text-[13px] font-semibold text-wine">{{ problem }}</p>
    <p v-else-if="told" role="status" class="px-3.5 pb-2.5 text-[13px] font-semibold">{{ told }}</p>
  </section>
</template>
