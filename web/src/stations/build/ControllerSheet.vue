<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import FormField from '../../parts/FormField.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import { sure } from '../../parts/sure'
import { useSite } from '../../site'
import { timeOf } from '../../words'

const site = useSite()
const route = useRoute()
const id = Number(route.params.id)
const path = { path: { id } }

const edit = useDraft<Schemas['Controller']>(() => ask(api.GET('/api/controllers/{id}', { params: path })), (value, rev) => ask(api.PUT('/api/controllers/{id}', { params: path, body: { rev, value } })))
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const doors = ref<Schemas['Door'][]>([])
const lines = ref<Schemas['TestLine'][]>([])
const testing = ref(false)
const said = ref('')
const newFloor = ref('')

const unit = computed(() => site.units.find((u) => u.id === id))
const ports = computed(() => Array.from({ length: draft.value?.ports ?? 0 }, (_, i) => ({ port: i + 1, door: doors.value.find((d) => d.port === i + 1) })))
const floorName = (f: number) => site.overview!.sites.flatMap((s) => s.floors).find((x) => x.id === f)?.name ?? ''
const floors = computed(() => site.overview!.sites.find((s) => s.id === draft.value?.siteId)?.floors ?? [])

async function load() {
  doors.value = (await ask(api.GET('/api/doors', { params: { query: { limit: 1000 } } }))).items.map((d) => d.value).filter((d) => d.controllerId === id)
}
onMounted(() => { void edit.reload(); void load() })
watch(() => site.version, load)

async function attempt(what: () => Promise<unknown>, words: string) {
  try {
    await what()
    said.value = words
  } catch (e) {
    said.value = (e as Error).message
  }
}
async function test() {
  testing.value = true
  await attempt(async () => { lines.value = await ask(api.POST('/api/controllers/{id}/self-test', { params: path })) }, '')
  testing.value = false
}
const setClock = () => attempt(async () => { await ask(api.POST('/api/controllers/{id}/set-clock', { params: path })); await test() }, 'The clock is set.')
const blink = () => attempt(() => ask(api.POST('/api/controllers/{id}/blink', { params: path })), 'It blinks for ten seconds.')
async function remove() {
  if (!(await sure(`Retire ${stored.value!.value.name}?`, 'It keeps deciding with what it holds until somebody resets it; this application no longer speaks to it.', 'Retire it'))) return
  await attempt(async () => {
    await ask(api.DELETE('/api/controllers/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/build')
  }, '')
}
async function addFloor() {
  const level = Math.max(-1, ...floors.value.map((f) => f.level)) + 1
  await attempt(async () => { await ask(api.POST('/api/floors', { body: { id: 0, name: newFloor.value, siteId: draft.value!.siteId, level } })); newFloor.value = ''; await site.refresh() }, 'The floor is added; it shows once it has a door.')
}
const good = computed(() => lines.value.filter((l) => l.ok).length)
</script>

<template>
  <SheetFrame :title="stored?.value.name ?? 'Controller'">
    <template #under><template v-if="stored">{{ stored.value.model }} · serial <span class="font-mono">{{ stored.value.serial }}</span> · {{ unit?.online ? `online at ${unit.address}` : `offline: ${unit?.trouble ?? ''}` }}</template></template>
    <template #actions>
      <button class="btn" :disabled="!unit?.online" @click="blink">Blink</button>
      <button class="btn" @click="remove">Retire</button>
    </template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <p v-if="said" role="status" class="mb-3 font-semibold">{{ said }}</p>
      <section class="card mb-4">
        <div class="card-head"><h2>Doors</h2><span class="note">one to a port</span></div>
        <div v-for="p in ports" :key="p.port" class="row">
          <span class="w-16 shrink-0 font-mono whitespace-nowrap text-ash">port {{ p.port }}</span>
          <template v-if="p.door"><RouterLink class="flex-1 font-semibold hover:underline" :to="`/build/doors/${p.door.id}`">{{ p.door.name }}</RouterLink><span class="note">{{ floorName(p.door.floorId) }}</span></template>
          <template v-else><span class="flex-1 text-ash">free</span><RouterLink class="btn px-2 py-0.5" :to="`/build/doors/new?controller=${id}`">Name a door</RouterLink></template>
        </div>
      </section>
      <section class="card mb-4">
        <div class="card-head">
          <h2>Self-test</h2>
          <span class="flex items-center gap-3"><span v-if="lines.length" class="note">{{ good }} of {{ lines.length }} good</span><button class="btn btn-amber px-2.5 py-0.5" :disabled="testing" @click="test">{{ testing ? 'Testing …' : 'Test now' }}</button></span>
        </div>
        <p v-if="!lines.length" class="p-3.5 text-ash">Asks whether the controller answers, whether its clock is right, and what its readers, contacts and exit requests say.</p>
        <div v-for="(l, i) in lines" :key="i" class="row py-1.5">
          <span class="w-4 font-bold" :class="l.ok ? 'text-kelp' : 'text-wine'" :aria-label="l.ok ? 'good' : 'not good'">{{ l.ok ? '✓' : '✗' }}</span>
          <span class="w-40">{{ l.place }}</span><span class="w-28 text-ash">{{ l.what }}</span>
          <span class="flex-1" :class="l.ok ? '' : 'font-semibold'">{{ l.words }}<span v-if="l.mend" class="note block font-normal">{{ l.mend }}</span></span>
          <button v-if="l.fix === 'set-clock'" class="btn px-2 py-0.5" @click="setClock">Set the clock</button>
        </div>
      </section>
      <div class="grid grid-cols-2 gap-4">
        <section class="card self-start">
          <div class="card-head"><h2>Name and place</h2></div>
          <div class="space-y-3 p-3.5">
            <FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="draft.name" class="field" :aria-invalid="f.invalid" /></FormField>
            <FormField v-slot="f" label="Site"><select :id="f.id" v-model.number="draft.siteId" class="field"><option v-for="s in site.overview!.sites" :key="s.id" :value="s.id">{{ s.name }}</option></select></FormField>
            <FormField v-slot="f" label="Time zone" :problem="fields.zone"><input :id="f.id" v-model="draft.zone" class="field" :aria-invalid="f.invalid" /></FormField>
          </div>
        </section>
        <section class="card self-start">
          <div class="card-head"><h2>Floors of the site</h2></div>
          <p v-for="f in floors" :key="f.id" class="row py-1.5">{{ f.name }}<span class="note ml-auto">{{ f.doors.length }} doors</span></p>
          <form class="row" @submit.prevent="addFloor"><input v-model="newFloor" class="field" placeholder="Level 1" aria-label="Name of a new floor" /><button class="btn" :disabled="!newFloor.trim()">Add</button></form>
        </section>
      </div>
    </template>
    <template #aside>
      <p v-if="dirty" class="card p-3 text-[13px]">A new name takes effect at once; a new time zone when sent to the controller.</p>
      <SaveBar :dirty="dirty && !missing" :busy="busy" :problem="missing ? '' : problem" @save="edit.save" @discard="edit.discard" />
      <template v-if="unit">
        <h2>Now</h2>
        <div class="card text-[13px]">
          <p class="row">Clock<span class="ml-auto font-mono" :class="Math.abs(unit.driftMs) > 5000 ? 'text-wine' : ''">{{ unit.online ? timeOf(Date.now() + site.skew + unit.driftMs, draft?.zone || 'UTC') : '—' }}</span></p>
          <p class="row">Firmware<span class="ml-auto">{{ unit.firmware || '—' }}</span></p>
          <p class="row">Holds<span class="ml-auto font-mono" :title="unit.hash">{{ unit.hash ? unit.hash.slice(0, 12) + '…' : 'nothing yet' }}</span></p>
          <p class="row">Capacity<span class="ml-auto">{{ draft?.ports }} doors, {{ draft?.people.toLocaleString('en') }} people</span></p>
        </div>
      </template>
    </template>
  </SheetFrame>
</template>
