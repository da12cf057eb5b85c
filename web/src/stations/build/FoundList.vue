<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import { sure } from '../../ui/sure'
import TakeIntoService from './TakeIntoService.vue'

/** Controllers that answer and are not in service here; found by themselves, by address or by serial number. */
type Found = Schemas['Found']
const { attempt, busy, problem } = useAttempt()
const taking = ref<Found[]>([])
const query = useComputed(
  'found',
  () => [],
  (signal) => ask(api.GET('/api/found', { signal })),
)
const look = () => query.refetch()
const soon = useDebounceFn(look, 300)
onScopeDispose(listen((n) => n.type === 'found' && void soon()))

const text = ref('')
const only = ref<string[]>()
const told = ref('')
const find = () =>
  attempt(async () => {
    only.value = undefined
    told.value = ''
    if (!text.value.trim()) return void (await look())
    const list = await ask(api.POST('/api/find-controllers', { body: { at: text.value } }))
    only.value = list.map((f) => f.serial)
    await look()
    const here = list.filter((f) => f.state === 'here' && !f.forgotten)
    if (here.length) told.value = here.map((f) => `${f.serial} is in service here as ${f.name}.`).join(' ')
  })
const others = computed(() =>
  (query.data.value ?? [])
    .filter((f) => f.state !== 'here' || f.forgotten || f.fault)
    .filter((f) => !only.value || only.value.includes(f.serial)),
)
const ready = (f: Found) => f.state !== 'elsewhere' && !f.fault
const chosen = ref<string[]>([])
const tick = (serial: string, on: boolean) =>
  (chosen.value = on ? [...chosen.value, serial] : chosen.value.filter((s) => s !== serial))
const several = computed(() => others.value.filter((f) => chosen.value.includes(f.serial) && ready(f)))
const blink = (f: Found) =>
  attempt(() => ask(api.POST('/api/found/{serial}/blink', { params: { path: { serial: f.serial } } })).then(() => {}))
const reset = (f: Found) =>
  attempt(async () => {
    if (
      !(await sure(
        `Hold the reset button of ${f.serial}?`,
        `Its key, its configuration and every event it has not handed over are erased. It holds ${f.holds}.`,
        'Hold it',
      ))
    )
      return
    await ask(api.POST('/api/found/{serial}/reset', { params: { path: { serial: f.serial } } }))
    await look()
  })
function done() {
  taking.value = []
  chosen.value = []
  void look()
}
</script>

<template>
  <section class="card" aria-label="Found on the network">
    <div class="card-head flex-wrap">
      <h2>Found on the network</h2>
      <form class="ml-auto flex items-center gap-2" @submit.prevent="find">
        <input
          v-model="text"
          class="field w-56! py-1"
          type="search"
          placeholder="address or serial number"
          aria-label="Address or serial number"
        />
        <button class="btn px-2 py-0.5" :disabled="busy">{{ text.trim() ? 'Ask' : 'Look again' }}</button>
      </form>
    </div>
    <p v-if="problem" role="alert" class="px-3.5 pt-2 font-semibold text-wine">{{ problem }}</p>
    <p v-if="told" role="status" class="px-3.5 pt-2">{{ told }}</p>
    <p v-if="!others.length" class="p-3.5 text-ash">
      {{
        only
          ? 'No other controller is meant by that.'
          : 'No other controller answers. Plug one in; it appears here by itself. One in another subnet is asked by its address.'
      }}
    </p>
    <div v-for="f in others" :key="f.serial" class="row flex-wrap">
      <label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          :disabled="!ready(f)"
          :checked="chosen.includes(f.serial)"
          :aria-label="`Choose ${f.serial}`"
          @change="tick(f.serial, ($event.target as HTMLInputElement).checked)"
        /><b class="w-20 font-mono">{{ f.serial }}</b></label
      >
      <span class="min-w-40 flex-1 text-[13px] text-ash"
        >{{ f.model }} · {{ f.ports }} doors · firmware {{ f.firmware || '?' }} ·
        <span class="font-mono">{{ f.address }}</span><br />holds {{ f.holds }}</span
      >
      <span v-if="f.fault" class="max-w-[46%] text-[13px] text-wine"><b>has stopped:</b> {{ f.fault }}</span>
      <span v-else-if="f.code" class="text-[13px] text-ash"
        >shows <b class="font-mono">{{ f.shows }}</b>, waits to be compared</span
      >
      <span v-else-if="f.state === 'elsewhere'" class="text-[13px] text-wine">in service with another key</span>
      <span v-if="f.forgotten" class="text-[13px] text-wine">{{ f.name }} has lost its key</span>
      <button
        v-if="f.standIn"
        class="btn px-2 py-0.5"
        :class="f.blinking ? 'animate-pulse bg-amber' : ''"
        @click="blink(f)"
      >
        {{ f.blinking ? 'blinking' : 'Blink' }}
      </button>
      <button v-if="!ready(f)" class="btn btn-wine px-2 py-0.5" @click="reset(f)">Reset …</button>
      <button v-else class="btn btn-amber px-2.5 py-0.5" @click="taking = [f]">Take into service</button>
    </div>
    <div v-if="several.length > 1" class="row bg-lime">
      <button class="btn btn-amber" @click="taking = several">Take these {{ several.length }} into service</button>
      <span class="note">in one form</span>
    </div>
    <TakeIntoService v-if="taking.length" :found="taking" @close="done" />
  </section>
</template>
