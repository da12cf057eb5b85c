<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useSite } from '../../core/site'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import { timeOf } from '../../words'
import { sure } from '../../ui/sure'
import ControllerNetwork from './ControllerNetwork.vue'
import ReplaceList from './ReplaceList.vue'
import SelfTest from './SelfTest.vue'

const props = defineProps<{ id: number }>()
const site = useSite()
const path = { path: { id: props.id } }
const now = useNow({ interval: 1000 })

const edit = useSheet<Schemas['Controller']>({
  kind: 'controller',
  id: props.id,
  name: (c) => c.name,
  load: (signal) => fetchObject('controller', props.id, signal),
  store: (value, rev) => ask(api.PUT('/api/controllers/{id}', { params: path, body: { rev, value } })),
})
const { draft, stored, dirty, missing, phase } = edit
const portList = useComputed(
  'ports',
  () => [props.id],
  (signal) => ask(api.GET('/api/controllers/{id}/ports', { params: path, signal })),
)
const said = ref('')
const newFloor = ref('')

const unit = computed(() => site.units.find((u) => u.id === props.id))
const ports = computed(() => portList.data.value ?? [])
const floors = computed(() => site.overview!.sites.find((s) => s.id === draft.value?.siteId)?.floors ?? [])

async function attempt(what: () => Promise<unknown>, words: string) {
  try {
    await what()
    said.value = words
  } catch (e) {
    said.value = (e as Error).message
  }
}
const keep = useComputed(
  'keep',
  () => [],
  (signal) => ask(api.GET('/api/keep', { signal })),
)
const row = computed(() => keep.data.value?.rows.find((r) => r.id === props.id))
const restart = () =>
  attempt(async () => {
    if (!(await sure(`Restart ${stored.value!.value.name}?`, row.value?.restart ?? '', 'Restart it'))) return
    await ask(api.POST('/api/controllers/{id}/restart', { params: path }))
  }, 'It restarts; it is back in a moment.')

const replacing = ref(false)
const blink = () =>
  attempt(() => ask(api.POST('/api/controllers/{id}/blink', { params: path })), 'It blinks for ten seconds.')
const remove = useRemoval(edit, {
  kind: 'controller',
  id: props.id,
  verb: 'Retire',
  follows: () =>
    'It keeps deciding with what it holds until somebody resets it; this application no longer speaks to it.',
  to: '/build',
})
async function addFloor() {
  await attempt(async () => {
    await site.addFloor(draft.value!.siteId, newFloor.value)
    newFloor.value = ''
  }, 'The floor is added.')
}
</script>

<template>
  <SheetFrame :title="stored?.value.name ?? 'Controller'">
    <template #under
      ><template v-if="stored"
        >{{ stored.value.model }} · serial <span class="font-mono">{{ stored.value.serial }}</span> ·
        {{ unit?.online ? `online at ${unit.address}` : `offline: ${unit?.trouble ?? ''}` }}</template
      ></template
    >
    <template #actions>
      <BesideNav :id="id" kind="controller" />
      <button class="btn" :disabled="!unit?.online" @click="blink">Blink</button>
      <RouterLink class="btn" :to="`/build/terminals?controller=${id}`">Terminals</RouterLink>
      <button class="btn" :disabled="!unit?.online" @click="restart">Restart</button>
      <button class="btn" @click="replacing = true">Replace …</button>
      <button class="btn" @click="remove">Retire</button>
    </template>
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
      what="This controller"
    />
    <template v-if="draft && !missing">
      <p v-if="said" role="status" class="mb-3 font-semibold">{{ said }}</p>
      <ReplaceList v-if="replacing && stored" :id="id" :name="stored.value.name" @close="replacing = false" />
      <section class="card mb-4">
        <div class="card-head">
          <h2>Doors</h2>
          <span class="note">one to a port</span>
        </div>
        <div v-for="p in ports" :key="p.port" class="row">
          <span class="w-16 shrink-0 font-mono whitespace-nowrap text-ash">port {{ p.port }}</span>
          <template v-if="p.door"
            ><RouterLink class="flex-1 font-semibold hover:underline" :to="`/build/doors/${p.door}`">{{
              p.name
            }}</RouterLink
            ><span class="note">{{ p.floor }}</span></template
          >
          <template v-else
            ><span class="flex-1 text-ash">free</span
            ><RouterLink class="btn px-2 py-0.5" :to="`/build/doors/new?controller=${id}`"
              >Name a door</RouterLink
            ></template
          >
        </div>
      </section>
      <SelfTest :id="id" />
      <div class="grid grid-cols-2 gap-4">
        <section class="card self-start">
          <div class="card-head"><h2>Name and place</h2></div>
          <div class="space-y-3 p-3.5">
            <FormField v-slot="f" of="Controller" field="name"
              ><input v-model="draft.name" v-bind="f.bind" class="field"
            /></FormField>
            <FormField v-slot="f" of="Controller" field="siteId"
              ><ObjectPicker
                :id="f.id"
                v-model="draft.siteId"
                kind="site"
                label="Site"
                :invalid="f.invalid"
                :describedby="f.bind['aria-describedby']"
            /></FormField>
            <FormField v-slot="f" of="Controller" field="zone"
              ><input v-model="draft.zone" v-bind="f.bind" class="field"
            /></FormField>
            <FormField v-slot="f" of="Controller" field="place"
              ><input
                v-bind="f.bind"
                class="field"
                :value="draft.place ?? ''"
                placeholder="where it hangs"
                @input="draft.place = ($event.target as HTMLInputElement).value || undefined"
            /></FormField>
            <FormField v-slot="f" of="Controller" field="resistor"
              ><input
                v-bind="f.bind"
                class="field font-mono"
                type="number"
                :value="draft.resistor ?? ''"
                placeholder="1000"
                @input="draft.resistor = Number(($event.target as HTMLInputElement).value) || undefined"
            /></FormField>
          </div>
        </section>
        <ControllerNetwork v-if="stored" :id="id" :stored="stored.value.network" :address="unit?.address" />
        <section class="card self-start">
          <div class="card-head"><h2>Floors of the site</h2></div>
          <p v-for="f in floors" :key="f.id" class="row py-1.5">
            {{ f.name }}<span class="note ml-auto">{{ f.doors.length }} doors</span>
          </p>
          <form class="row" @submit.prevent="addFloor">
            <input v-model="newFloor" class="field" placeholder="Level 1" aria-label="Name of a new floor" /><button
              class="btn"
              :disabled="!newFloor.trim()"
            >
              Add
            </button>
          </form>
        </section>
      </div>
    </template>
    <template #aside>
      <p v-if="dirty" class="card p-3 text-[13px]">
        A new name takes effect at once; a new time zone when sent to the controller.
      </p>
      <SheetSave :sheet="edit" of="Controller" />
      <template v-if="unit">
        <h2>Now</h2>
        <div class="card text-[13px]">
          <p class="row">
            Clock<span class="ml-auto font-mono" :class="Math.abs(unit.driftMs) > 5000 ? 'text-wine' : ''">{{
              unit.online ? timeOf(now.getTime() + site.skew + unit.driftMs, draft?.zone || 'UTC') : '—'
            }}</span>
          </p>
          <p v-if="unit.mainsLost || unit.batteryLow || unit.lidOpen" class="row font-semibold text-wine">
            {{ unit.mainsLost ? 'on its battery' : unit.batteryLow ? 'battery low' : 'its box is open' }}
          </p>
          <p class="row">
            Battery<span class="ml-auto font-mono">{{
              unit.millivolts ? `${(unit.millivolts / 1000).toFixed(1)} V` : '—'
            }}</span>
          </p>
          <p class="row">
            Firmware<span class="ml-auto">{{ unit.firmware || '—' }}</span>
          </p>
          <p class="row">
            Holds<span class="ml-auto font-mono" :title="unit.hash">{{
              unit.hash ? unit.hash.slice(0, 12) + '…' : 'nothing yet'
            }}</span>
          </p>
          <p class="row">
            Capacity<span class="ml-auto"
              >{{ draft?.ports }} doors, {{ draft?.people.toLocaleString('en') }} people</span
            >
          </p>
        </div>
      </template>
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
