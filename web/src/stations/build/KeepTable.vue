<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import StateBox from '../../ui/StateBox.vue'
import StrongText from '../../ui/StrongText.vue'
import { at, dateOf, many } from '../../words'
import UpdateFirmware from './UpdateFirmware.vue'

/** All controllers and how they are: one sentence of health, what to do, and a table. */
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const query = useComputed(
  'keep',
  () => [],
  (signal) => ask(api.GET('/api/keep', { signal })),
)
const kept = computed(() => query.data.value)
const again = useDebounceFn(() => query.refetch(), 400)
/** What of the live state the sentence depends on. */
const stirs = computed(() =>
  site.units
    .map((u) =>
      [
        u.id,
        u.online,
        u.mainsLost,
        u.batteryLow,
        u.lidOpen,
        u.silent,
        u.interrupted,
        u.hash,
        Math.abs(u.driftMs) > 5000,
      ].join(),
    )
    .join(';'),
)
watch(stirs, () => void again())

type Row = Schemas['Unit'] & { row?: Schemas['KeptRow'] }
const find = ref('')
const rows = computed<Row[]>(() =>
  site.units
    .filter((u) => u.name.toLowerCase().includes(find.value.trim().toLowerCase()))
    .map((u) => ({ ...u, row: kept.value?.rows.find((r) => r.id === u.id) })),
)
const columns: Column<Row>[] = [
  { id: 'name', title: 'Controller' },
  { id: 'state', title: 'State', width: '104px' },
  { id: 'power', title: 'Power, clock', width: '90px' },
  { id: 'firmware', title: 'Firmware', width: '86px' },
  { id: 'holds', title: 'Holds', width: '98px', from: 600 },
  { id: 'used', title: 'Terminals', width: '80px', from: 680 },
]
const selected = ref<number[]>([])
const told = ref('')
const updating = ref(false)
const setClocks = (ids: number[]) =>
  attempt(async () => {
    told.value = (await ask(api.POST('/api/set-clocks', { body: { ids } }))).words
    selected.value = []
  })
const send = (ids: number[]) =>
  attempt(async () => {
    await ask(api.POST('/api/send', { body: { controllers: ids } }))
    told.value = 'Sent, or on its way.'
    selected.value = []
  })
const blink = (ids: number[]) =>
  attempt(async () => {
    for (const id of ids) await ask(api.POST('/api/controllers/{id}/blink', { params: { path: { id } } }))
    told.value = ids.length === 1 ? 'It blinks for ten seconds.' : 'They blink for ten seconds.'
  })
const since = (u: Row) =>
  u.since ? `${dateOf(u.since, site.zone)} ${at(u.since, site.zone, { hour: '2-digit', minute: '2-digit' })}` : ''
const drift = (u: Row) => {
  const s = u.driftMs / 1000
  return Math.abs(s) < 1 ? 'right' : `${s > 0 ? '+' : '−'}${Math.abs(s).toFixed(0)} s`
}
const of = (x: [number, number] | number[] | undefined) =>
  x ? `${x[0]!.toLocaleString('en')}/${x[1]!.toLocaleString('en')}` : '…'
const newest = computed(() => (kept.value?.rows ?? []).filter((r) => r.newest).length)
</script>

<template>
  <section class="mb-4" aria-label="In service">
    <p
      v-if="kept"
      class="mb-2 border-l-4 py-0.5 pl-3 text-[15px]"
      :class="kept.todo.length ? 'border-wine' : 'border-kelp'"
    >
      <StrongText :text="kept.words" />
    </p>
    <StateBox v-else-if="query.error.value" :error="query.error.value" :again="query.refetch" />
    <p v-else class="mb-2 border-l-4 border-seam py-0.5 pl-3 text-[15px] text-ash">Looking at them …</p>
    <div class="mb-1.5 flex flex-wrap items-center gap-3">
      <h2>In service</h2>
      <span class="note">{{ many(site.units.length, 'controller', 'controllers') }}</span>
      <input
        v-if="site.units.length > 8"
        v-model="find"
        type="search"
        class="field w-56! py-1"
        placeholder="Find a controller"
        aria-label="Find a controller"
      />
      <span class="ml-auto flex gap-2"
        ><button class="btn px-2 py-0.5" :disabled="busy" @click="setClocks([])">Set all clocks</button
        ><button v-if="newest" class="btn px-2 py-0.5" @click="updating = true">Firmware …</button></span
      >
    </div>
    <p v-if="told" role="status" class="mb-2 font-semibold">{{ told }}</p>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <div :class="site.units.length > 8 ? 'flex h-[420px] flex-col' : ''">
      <DataTable
        :id="(u: Row) => u.id"
        v-model:selected="selected"
        label="Controllers in service"
        :columns="columns"
        :rows="rows"
        :name="(u: Row) => u.name"
        :to="(u: Row) => `/build/controllers/${u.id}`"
        :filtered="!!find"
        none="None yet."
        chooses
      >
        <template #name="{ row: u }"
          ><span class="block min-w-0 leading-tight"
            ><RouterLink
              class="block truncate font-semibold hover:underline"
              :to="`/build/controllers/${u.id}`"
              tabindex="-1"
              @click.stop
              >{{ u.name }}</RouterLink
            ><span class="block truncate text-[12px] text-ash" :title="u.row?.place">{{
              u.row?.place || u.row?.model
            }}</span></span
          ></template
        >
        <template #state="{ row: u }"
          ><span
            class="flex items-center gap-2 text-[13px]"
            :title="u.online ? `online at ${u.address} since ${since(u)}` : u.trouble"
            ><span
              class="size-2.5 shrink-0 rounded-full"
              :class="u.online ? 'bg-kelp' : 'border-2 border-wine'"
              aria-hidden="true"
            /><span class="min-w-0 leading-tight" :class="u.online ? '' : 'font-semibold text-wine'"
              >{{ u.online ? 'online' : 'offline'
              }}<span class="block truncate text-[11px] font-normal text-ash">{{ since(u) }}</span></span
            ></span
          ></template
        >
        <template #power="{ row: u }"
          ><span class="block text-[12px] leading-tight whitespace-nowrap"
            ><span
              class="block"
              :class="u.mainsLost || u.batteryLow || u.lidOpen ? 'font-semibold text-wine' : 'text-ash'"
              :title="u.millivolts ? `battery ${(u.millivolts / 1000).toFixed(1)} V` : ''"
              >{{
                !u.online
                  ? '—'
                  : u.mainsLost
                    ? 'on battery'
                    : u.batteryLow
                      ? 'battery low'
                      : u.lidOpen
                        ? 'box open'
                        : 'power good'
              }}</span
            ><span class="block" :class="Math.abs(u.driftMs) > 5000 ? 'font-bold text-wine' : 'text-ash'">{{
              u.online ? `clock ${drift(u)}` : ''
            }}</span></span
          ></template
        >
        <template #firmware="{ row: u }"
          ><span class="block text-[12px] leading-tight whitespace-nowrap"
            ><span v-if="u.updating" class="block font-mono">→ {{ u.updating }} {{ u.percent }} %</span
            ><span v-else class="block font-mono text-ash" :title="u.row?.newest ? `${u.row.newest} lies ready` : ''"
              >{{ u.firmware || '—' }}<b v-if="u.row?.newest" class="text-copper"> ↑</b></span
            ><span class="block" :class="u.row?.lacks ? 'font-semibold text-wine' : 'text-ash'"
              >{{ u.row?.lacks ? 'unsent' : 'all sent' }}{{ u.kept ? `, ${u.kept} events` : '' }}</span
            ></span
          ></template
        >
        <template #holds="{ row: u }"
          ><span class="block font-mono text-[11px] leading-tight whitespace-nowrap text-ash"
            >{{ of(u.row?.doors) }} doors<br />{{ of(u.row?.people) }}</span
          ></template
        >
        <template #used="{ row: u }"
          ><span class="block font-mono text-[11px] leading-tight whitespace-nowrap text-ash"
            >in {{ of(u.row?.inputs) }}<br />out {{ of(u.row?.outputs) }}</span
          ></template
        >
        <template #bulk>
          <button class="btn px-2 py-0.5" :disabled="busy" @click="setClocks(selected)">Set clocks</button>
          <button class="btn px-2 py-0.5" :disabled="busy" @click="blink(selected)">Blink</button>
          <button class="btn px-2 py-0.5" :disabled="busy" @click="send(selected)">Send</button>
          <button class="btn px-2 py-0.5" @click="updating = true">Update firmware …</button>
        </template>
      </DataTable>
    </div>
    <p v-for="z in kept?.zones ?? []" :key="z.zone" class="note mt-1.5 text-[12px]">
      {{ z.zone.split('/').at(-1)?.replaceAll('_', ' ') }}: {{ z.words }}; controllers know it by themselves.
    </p>
    <UpdateFirmware v-if="updating" :ids="selected" @close="updating = false" />
  </section>
</template>
