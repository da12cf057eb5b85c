<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { client, keys } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import { button, type Floor } from './useShaft'

/** Walks the floors: pulses one relay after the other, asks which button was lit, and proposes how to mend the wiring. */
const props = defineProps<{ id: number; floors: Floor[]; controller: number; live: boolean }>()
const chosen = defineModel<number>('chosen', { required: true })
const { attempt, busy, problem } = useAttempt()
const seen = ref<Schemas['Lit'][]>([])
const at = ref(-1) // the floor that is being asked about, from the lowest
const test = ref<Schemas['FloorTest']>()
const told = ref('')
const path = computed(() => ({ path: { id: props.id } }))
const asked = computed(() => props.floors[at.value])
const name = (id: number) => props.floors.find((f) => f.floorId === id)?.name ?? 'none'
const right = (l: Schemas['Lit']) => props.floors.find((f) => f.relay === l.relay)?.floorId === l.floorId
const others = computed(() => props.floors.filter((f) => f.floorId !== asked.value?.floorId))

const pulse = (i: number) =>
  attempt(async () => {
    const f = props.floors[i]
    if (!f) return void (at.value = -1)
    chosen.value = f.floorId
    await ask(api.POST('/api/controllers/{id}/try', { params: { path: { id: props.controller } }, body: { at: f.at } }))
    at.value = i
  })
function begin() {
  seen.value = []
  test.value = undefined
  told.value = ''
  void pulse(0)
}
async function answer(floorId: number) {
  const f = asked.value
  if (!f) return
  seen.value = [...seen.value, { relay: f.relay, floorId }]
  test.value = await ask(api.POST('/api/elevators/{id}/seen', { params: path.value, body: { seen: seen.value } }))
  const next = at.value + 1
  at.value = -1
  await pulse(next)
}
const mend = (m: Schemas['Rewiring']) =>
  attempt(async () => {
    const moved = await ask(api.POST('/api/elevators/{id}/rewire', { params: path.value, body: { relays: m.relays } }))
    told.value = moved.words
    seen.value = []
    test.value = undefined
    at.value = -1
    await client.invalidateQueries({ queryKey: keys.object('door', props.id) })
    await client.invalidateQueries({ queryKey: ['computed'] })
  })
</script>

<template>
  <section class="card" aria-label="Walk the floors">
    <div class="card-head">
      <h2>Walk the floors</h2>
      <span class="note">{{ test?.words ?? 'while you stand in the car' }}</span>
    </div>
    <p v-for="l in seen" :key="l.relay" class="row py-1 text-[13px]">
      <span :class="right(l) ? 'text-kelp' : 'font-semibold text-wine'">{{ right(l) ? '✓' : '✕' }}</span>
      Relay {{ l.relay }} lit {{ name(l.floorId) }}
    </p>
    <div v-if="asked" class="space-y-2 border-t border-seam px-3.5 py-2.5 text-[13.5px]">
      <p role="status">
        <b>Relay {{ asked.relay }} is on.</b> {{ asked.name }} should have lit. Which button was it?
      </p>
      <div class="flex flex-wrap gap-1.5">
        <button type="button" class="btn btn-amber px-2.5 py-1" :disabled="busy" @click="answer(asked.floorId)">
          {{ button(asked.level) }} lit
        </button>
        <label class="flex items-center gap-1.5"
          ><span class="sr-only">Another one was lit</span
          ><select
            class="field w-36! py-1"
            :value="0"
            :disabled="busy"
            @change="answer(Number(($event.target as HTMLSelectElement).value))"
          >
            <option :value="0" disabled>another one lit</option>
            <option v-for="f in others" :key="f.floorId" :value="f.floorId">
              {{ button(f.level) }} · {{ f.name }}
            </option>
          </select></label
        >
        <button type="button" class="btn px-2.5 py-1" :disabled="busy" @click="answer(0)">none lit</button>
        <button type="button" class="btn px-2.5 py-1" :disabled="busy" @click="pulse(at)">Once more</button>
      </div>
    </div>
    <div v-if="test?.mends.length" class="space-y-2 border-t border-seam px-3.5 py-2.5 text-[13.5px]">
      <p class="font-semibold text-wine">The wires lie otherwise than is said here. What you saw agrees with:</p>
      <div v-for="m in test.mends" :key="m.words" class="flex flex-wrap items-center gap-2">
        <span class="min-w-0 flex-1">{{ m.words }}</span>
        <button type="button" class="btn btn-amber px-2.5 py-1" :disabled="busy" @click="mend(m)">
          Take this over
        </button>
      </div>
    </div>
    <div v-if="!asked" class="border-t border-seam px-3.5 py-2.5">
      <button type="button" class="btn px-2.5 py-1" :disabled="busy || !live" @click="begin">
        {{ seen.length ? 'Walk them again' : 'Begin at the lowest' }}
      </button>
    </div>
    <p v-if="told" role="status" class="px-3.5 pb-2.5 text-[13px] font-semibold">{{ told }}</p>
    <p v-if="problem" role="alert" class="px-3.5 pb-2.5 text-[13px] font-semibold text-wine">{{ problem }}</p>
  </section>
</template>
