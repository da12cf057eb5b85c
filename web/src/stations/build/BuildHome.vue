<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { sure } from '../../ui/sure'
import { at, dateOf, many } from '../../words'
import BuildTabs from './BuildTabs.vue'
import TakeIntoService from './TakeIntoService.vue'

const site = useSite()
const problem = ref('')
const taking = ref<Schemas['Found']>()
const query = useComputed(
  'found',
  () => [],
  (signal) => ask(api.GET('/api/found', { signal })),
)
const found = computed<Schemas['Found'][]>(() => query.data.value ?? [])
const look = () => query.refetch()
const soon = useDebounceFn(look, 300)
onScopeDispose(listen((n) => n.type === 'rack' && void soon()))

type Unit = Schemas['Unit']
const find = ref('')
const columns: Column<Unit>[] = [
  { id: 'name', title: 'Controller', width: '220px' },
  { id: 'state', title: 'State' },
  { id: 'blink', title: 'At the door', width: '92px' },
]
const units = computed(() => site.units.filter((u) => u.name.toLowerCase().includes(find.value.trim().toLowerCase())))
function state(u: Unit): string {
  if (u.online)
    return `online at ${u.address}${Math.abs(u.driftMs) > 5000 ? ` · clock is ${Math.round(Math.abs(u.driftMs) / 1000)} s ${u.driftMs > 0 ? 'ahead' : 'behind'}` : ''}`
  if (!u.since) return u.trouble
  return `offline since ${dateOf(u.since, site.zone)} ${at(u.since, site.zone, { hour: '2-digit', minute: '2-digit' })}: ${u.trouble}`
}

const others = computed(() => found.value.filter((f) => f.state !== 'here' || f.forgotten || f.fault))
async function blink(id: number) {
  try {
    await ask(api.POST('/api/controllers/{id}/blink', { params: { path: { id } } }))
  } catch (e) {
    problem.value = (e as Error).message
  }
}
async function reset(f: Schemas['Found']) {
  if (
    !(await sure(
      `Hold the reset button of ${f.serial}?`,
      'Its key, its configuration and every event it has not handed over are erased.',
      'Hold it',
    ))
  )
    return
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
    <BuildTabs v-if="site.units.length" />
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <section v-if="!site.units.length" class="card mb-4">
      <div class="card-head"><h2>In service</h2></div>
      <p class="p-3.5 text-ash">
        None yet. Take one of those found below into service; it gets a name, a time zone and a key of its own.
      </p>
    </section>
    <section
      v-else
      class="mb-4"
      :class="site.units.length > 8 ? 'flex h-[420px] flex-col' : ''"
      aria-label="In service"
    >
      <div class="mb-1.5 flex items-baseline gap-3">
        <h2>In service</h2>
        <span class="note">{{ many(site.units.length, 'controller', 'controllers') }}</span>
        <input
          v-if="site.units.length > 8"
          v-model="find"
          type="search"
          class="field ml-auto w-56! py-1"
          placeholder="Find a controller"
          aria-label="Find a controller"
        />
      </div>
      <DataTable
        :id="(u: Unit) => u.id"
        label="Controllers in service"
        :columns="columns"
        :rows="units"
        :name="(u: Unit) => u.name"
        :to="(u: Unit) => `/build/controllers/${u.id}`"
        :filtered="!!find"
        none="None yet."
      >
        <template #name="{ row: u }"
          ><span class="flex items-center gap-2.5"
            ><span
              class="size-2.5 shrink-0 rounded-full"
              :class="u.online ? 'bg-kelp' : 'border-2 border-wine'"
              role="img"
              :aria-label="u.online ? 'online' : 'offline'"
              :title="u.online ? 'online' : 'offline'"
            /><RouterLink
              class="truncate font-semibold hover:underline"
              :to="`/build/controllers/${u.id}`"
              tabindex="-1"
              @click.stop
              >{{ u.name }}</RouterLink
            ></span
          ></template
        >
        <template #state="{ row: u }"
          ><span class="text-[13px]" :class="u.online ? 'text-ash' : 'text-wine'" :title="state(u)">{{
            state(u)
          }}</span></template
        >
        <template #blink="{ row: u }"
          ><button
            class="btn px-2 py-0.5"
            :class="u.blinking ? 'animate-pulse bg-amber' : ''"
            :disabled="!u.online"
            @click.stop="blink(u.id)"
          >
            {{ u.blinking ? 'blinking' : 'Blink' }}
          </button></template
        >
      </DataTable>
    </section>
    <section class="card">
      <div class="card-head">
        <h2>Found on the network</h2>
        <button class="btn px-2 py-0.5" @click="look">Look again</button>
      </div>
      <p v-if="!others.length" class="p-3.5 text-ash">
        No other controller answers. Plug one in; it appears here by itself.
      </p>
      <div v-for="f in others" :key="f.serial" class="row">
        <span class="w-24 font-mono font-semibold">{{ f.serial }}</span>
        <span class="flex-1 text-[13px] text-ash"
          >{{ f.model }} · {{ f.ports }} doors · {{ f.people.toLocaleString('en') }} people ·
          <span class="font-mono">{{ f.address }}</span></span
        >
        <span v-if="f.fault" class="max-w-[46%] text-[13px] text-wine"><b>has stopped:</b> {{ f.fault }}</span>
        <span v-else-if="f.code" class="text-[13px] text-ash"
          >shows <b class="font-mono">{{ f.shows }}</b>, waits to be compared</span
        >
        <span v-else-if="f.state === 'elsewhere'" class="text-[13px] text-wine">in service with another key</span>
        <span v-if="f.forgotten" class="text-[13px] text-wine">{{ f.name }} has lost its key</span>
        <button v-if="f.state === 'elsewhere' || f.fault" class="btn btn-wine px-2 py-0.5" @click="reset(f)">
          Reset …
        </button>
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
        <p>
          {{ many(site.overview!.sites.length, 'site', 'sites') }}, {{ many(site.doors.length, 'door', 'doors') }},
          {{ many(site.units.length, 'controller', 'controllers') }}
        </p>
        <p v-for="s in site.overview!.sites" :key="s.id">
          <RouterLink class="underline" :to="`/build/sites/${s.id}`">{{ s.name }}</RouterLink><span class="note">
            · {{ s.zone.split('/').at(-1)?.replaceAll('_', ' ') }}</span
          >
        </p>
        <p class="note mt-1">Time zone data {{ site.overview!.zoneData }}</p>
        <a class="mt-1 inline-block underline" href="/api/site-file" download>Save as a site file</a>
        <p class="note">PINs are not in it: they are stored hashed.</p>
      </div>
    </template>
    <TakeIntoService v-if="taking" :found="taking" @close="() => ((taking = undefined), look())" />
  </SheetFrame>
</template>
