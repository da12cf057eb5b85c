<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { calmly, listen } from '../../api/live'
import SheetFrame from '../../parts/SheetFrame.vue'
import { sure } from '../../parts/sure'
import { useSite } from '../../site'
import { at, many } from '../../words'
import TakeIntoService from './TakeIntoService.vue'

const site = useSite()
const found = ref<Schemas['Found'][]>([])
const problem = ref('')
const taking = ref<Schemas['Found']>()

async function look() {
  try {
    found.value = await ask(api.GET('/api/found'))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const soon = calmly(look, 200)
const stop = listen((n) => { if (!n.event) soon() })
const timer = setInterval(look, 4000)
onMounted(look)
onBeforeUnmount(() => { stop(); clearInterval(timer); soon.cancel() })

const others = computed(() => found.value.filter((f) => f.state !== 'here' || f.forgotten || f.fault))
async function blink(id: number) {
  try {
    await ask(api.POST('/api/controllers/{id}/blink', { params: { path: { id } } }))
  } catch (e) {
    problem.value = (e as Error).message
  }
}
async function reset(f: Schemas['Found']) {
  if (!(await sure(`Hold the reset button of ${f.serial}?`, 'Its key, its configuration and every event it has not handed over are erased.', 'Hold it'))) return
  try {
    await ask(api.POST('/api/found/{serial}/reset', { params: { path: { serial: f.serial } } }))
    await look()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="Build" under="Controllers in service, and those that were found on the network">
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <section class="card mb-4">
      <div class="card-head"><h2>In service</h2><span class="note">{{ many(site.units.length, 'controller', 'controllers') }}</span></div>
      <p v-if="!site.units.length" class="p-3.5 text-ash">None yet. Take one of those found below into service; it gets a name, a time zone and a key of its own.</p>
      <div v-for="u in site.units" :key="u.id" class="row">
        <span class="size-2.5 shrink-0 rounded-full" :class="u.online ? 'bg-kelp' : 'border-2 border-wine'" :title="u.online ? 'online' : 'offline'" />
        <RouterLink class="w-44 font-semibold hover:underline" :to="`/build/controllers/${u.id}`">{{ u.name }}</RouterLink>
        <span class="flex-1 text-[13px]" :class="u.online ? 'text-ash' : 'text-wine'">
          <template v-if="u.online">online at <span class="font-mono">{{ u.address }}</span><template v-if="Math.abs(u.driftMs) > 5000"> · <b class="text-wine">clock is {{ Math.round(Math.abs(u.driftMs) / 1000) }} s {{ u.driftMs > 0 ? 'ahead' : 'behind' }}</b></template></template>
          <template v-else>offline since {{ at(u.since, 'UTC', { hour: '2-digit', minute: '2-digit' }) }} UTC: {{ u.trouble }}</template>
        </span>
        <span v-if="u.blinking" class="pill animate-pulse bg-amber text-amber-ink">blinking</span>
        <button class="btn px-2 py-0.5" :disabled="!u.online" @click="blink(u.id)">Blink</button>
      </div>
    </section>
    <section class="card">
      <div class="card-head"><h2>Found on the network</h2><button class="btn px-2 py-0.5" @click="look">Look again</button></div>
      <p v-if="!others.length" class="p-3.5 text-ash">No other controller answers. Plug one in; it appears here by itself.</p>
      <div v-for="f in others" :key="f.serial" class="row">
        <span class="w-24 font-mono font-semibold">{{ f.serial }}</span>
        <span class="flex-1 text-[13px] text-ash">{{ f.model }} · {{ f.ports }} doors · {{ f.people.toLocaleString('en') }} people · <span class="font-mono">{{ f.address }}</span></span>
        <span v-if="f.fault" class="max-w-[46%] text-[13px] text-wine"><b>has stopped:</b> {{ f.fault }}</span>
        <span v-else-if="f.code" class="text-[13px] text-ash">shows <b class="font-mono">{{ f.shows }}</b>, waits to be compared</span>
        <span v-else-if="f.state === 'elsewhere'" class="text-[13px] text-wine">in service with another key</span>
        <span v-if="f.forgotten" class="text-[13px] text-wine">{{ f.name }} has lost its key</span>
        <button v-if="f.state === 'elsewhere' || f.fault" class="btn btn-wine px-2 py-0.5" @click="reset(f)">Reset …</button>
        <button v-else class="btn btn-amber px-2.5 py-0.5" @click="taking = f">Take into service</button>
      </div>
    </section>
    <template #aside>
      <h2>Next</h2>
      <div class="card p-3 text-[13px] leading-relaxed">
        <p v-if="!site.units.length">Take a controller into service. Then name its doors.</p>
        <p v-else-if="!site.doors.length">Open {{ site.units[0]!.name }} and name its doors.</p>
        <p v-else>Choose a door on the left to see and change how it is built.</p>
      </div>
      <h2>This installation</h2>
      <div class="card p-3 text-[13px] leading-relaxed">
        <p>{{ many(site.overview!.sites.length, 'site', 'sites') }}, {{ many(site.doors.length, 'door', 'doors') }}, {{ many(site.units.length, 'controller', 'controllers') }}</p>
        <p class="note mt-1">Time zone data {{ site.overview!.zoneData }}</p>
        <a class="mt-1 inline-block underline" href="/api/site-file" download>Save as a site file</a>
        <p class="note">PINs are not in it: they are stored hashed.</p>
      </div>
    </template>
    <TakeIntoService v-if="taking" :found="taking" @close="taking = undefined; look()" />
  </SheetFrame>
</template>
