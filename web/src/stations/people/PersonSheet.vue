<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../api/live'
import { useDraft } from '../../draft'
import DateRange from '../../parts/DateRange.vue'
import FormField from '../../parts/FormField.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import { sure } from '../../parts/sure'
import { useSite } from '../../site'
import { dateOf, timeOf } from '../../words'

const site = useSite()
const router = useRouter()
const route = useRoute()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }

const blank = (): Schemas['Person'] => ({ id: 0, name: '', department: '', suspended: false, extendedTime: false, alwaysPin: false, cards: [], levels: [] })
const edit = useDraft<Schemas['Person']>(
  async () => (id ? ask(api.GET('/api/people/{id}', { params: path })) : { rev: 0, value: blank() }),
  (value, rev) => (id ? ask(api.PUT('/api/people/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/people', { body: value }))),
  save,
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const levels = ref<Schemas['Level'][]>([])
const schedules = ref<Schemas['Schedule'][]>([])
const pins = ref<Schemas['PINState']>()
const pin = ref('')
const said = ref('')
const events = ref<Schemas['Event'][]>([])
const listening = ref(false)
const facility = ref<number>()
const number = ref<number>()
const format = ref<'26-bit' | 'raw'>('26-bit')

async function load() {
  const all = { params: { query: { limit: 1000 } } }
  levels.value = (await ask(api.GET('/api/levels', all))).items.map((l) => l.value)
  schedules.value = (await ask(api.GET('/api/schedules', all))).items.map((s) => s.value)
  pins.value = await ask(api.GET('/api/pins'))
  if (id) events.value = await ask(api.GET('/api/events', { params: { query: { person: id, quiet: true, limit: 6 } } }))
}
/** While listening, an unknown card at any reader becomes a card of this person. */
const stop = listen((n) => {
  if (!n.event) return
  if (id && n.event.personId === id) void load()
  if (listening.value && n.event.reason === 'card-unknown') {
    const m = /^card (?:(\d+)-)?(\d+)$/.exec(n.event.detail)
    if (!m) return
    listening.value = false
    add(m[1] ? '26-bit' : 'raw', Number(m[1] ?? 0), Number(m[2]))
    said.value = `Card ${n.event.detail.slice(5)} was presented at ${n.event.door}; it is ${draft.value!.name || 'this person'}'s once saved.`
  }
})
onMounted(() => { void edit.reload(); void load() })
watch(() => site.version, load)
onBeforeUnmount(stop)

function add(f: '26-bit' | 'raw', fac: number, num: number) {
  draft.value!.cards.push({ format: f, facility: fac, number: num, status: 'active' })
}
function addTyped() {
  if (number.value === undefined) return
  add(format.value, format.value === 'raw' ? 0 : (facility.value ?? 0), number.value)
  number.value = undefined
}
const free = computed(() => levels.value.filter((l) => !draft.value?.levels.some((g) => g.levelId === l.id)))
const level = (lid: number) => levels.value.find((l) => l.id === lid)
const scheduleName = (sid: number) => schedules.value.find((s) => s.id === sid)?.name ?? ''
const reach = computed(() => (draft.value?.levels ?? []).flatMap((g) => level(g.levelId)?.entries ?? []))
const hasPin = computed(() => pins.value?.people.includes(id) ?? false)

async function save() {
  for (const d of [draft.value!, ...draft.value!.cards, ...draft.value!.levels]) { if (!d.from) delete d.from; if (!d.until) delete d.until }
  if ((await edit.save()) && !id) void router.replace(`/people/${stored.value!.value.id}`)
}
async function setPin(value: string) {
  try {
    await ask(api.PUT('/api/people/{id}/pin', { params: path, body: { pin: value } }))
    said.value = value ? 'The PIN is set. It is stored hashed and cannot be shown again.' : 'The PIN is taken away.'
    pin.value = ''
    await load()
  } catch (e) {
    said.value = (e as Error).message
  }
}
async function remove() {
  if (!(await sure(`Remove ${stored.value!.value.name}?`, 'Their cards open nothing after the next send. History can bring them back, without the PIN.', 'Remove them'))) return
  try {
    await ask(api.DELETE('/api/people/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/people')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame :title="draft?.name || 'New person'" :under="draft?.department || 'Somebody who may come in'">
    <template #actions><RouterLink v-if="id" class="btn" to="/people/new">Next new person</RouterLink><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <div v-if="draft && !missing" class="space-y-3">
      <p v-if="said" role="status" class="font-semibold">{{ said }}</p>
      <section class="card grid grid-cols-4 gap-3 p-3.5">
        <FormField v-slot="f" class="col-span-2" label="Name" :problem="fields.name"><input :id="f.id" v-model="draft.name" class="field" :autofocus="!id" :aria-invalid="f.invalid" /></FormField>
        <FormField v-slot="f" class="col-span-2" label="Department"><input :id="f.id" v-model="draft.department" class="field" /></FormField>
        <div class="col-span-4 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
          <span class="flex items-center gap-1">Admitted <DateRange v-model:from="draft.from" v-model:until="draft.until" what="person" :problem="fields.from || fields.until" /></span>
          <label class="flex items-center gap-1.5"><input v-model="draft.suspended" type="checkbox" /> suspended</label><label class="flex items-center gap-1.5"><input v-model="draft.extendedTime" type="checkbox" /> extended unlock time</label><label class="flex items-center gap-1.5"><input v-model="draft.alwaysPin" type="checkbox" /> always with PIN</label>
        </div>
      </section>
      <section class="card">
        <div class="card-head"><h2>Cards</h2><button class="btn px-2.5 py-0.5" :class="listening ? 'btn-amber animate-pulse' : ''" @click="listening = !listening">{{ listening ? 'Waiting for a card at any reader …' : 'Present a card at a reader' }}</button></div>
        <p v-if="!draft.cards.length" class="px-3.5 py-2.5 text-ash">No card. Let the person present one at any reader, or type its number.</p>
        <div v-for="(c, i) in draft.cards" :key="i" class="row py-1.5">
          <span class="w-16 text-ash">{{ c.format }}</span><b class="w-28 font-mono">{{ c.format === 'raw' ? c.number : `${c.facility}-${String(c.number).padStart(5, '0')}` }}</b>
          <select v-model="c.status" class="field w-32! py-0.5" :aria-label="`State of card ${c.number}`"><option v-for="s in ['active', 'lost', 'stolen', 'suspended']" :key="s">{{ s }}</option></select>
          <DateRange v-model:from="c.from" v-model:until="c.until" :what="`card ${c.number}`" :problem="fields[`cards[${i}].from`] || fields[`cards[${i}].until`]" />
          <span v-if="fields[`cards[${i}].number`]" class="text-[12px] font-semibold text-wine">{{ fields[`cards[${i}].number`] }}</span>
          <button class="btn btn-quiet ml-auto px-1" :aria-label="`Take card ${c.number} away`" @click="draft.cards.splice(i, 1)">Take away</button>
        </div>
        <form class="row gap-2" @submit.prevent="addTyped">
          <select v-model="format" class="field w-24!" aria-label="Card format"><option>26-bit</option><option>raw</option></select>
          <input v-if="format !== 'raw'" v-model.number="facility" type="number" min="0" class="field w-28! font-mono" placeholder="facility" aria-label="Facility code" /><input v-model.number="number" type="number" min="0" class="field w-36! font-mono" placeholder="card number" aria-label="Card number" /><button class="btn" :disabled="number === undefined">Add</button>
        </form>
      </section>
      <section class="card">
        <div class="card-head"><h2>Access levels</h2><span class="note">{{ reach.length }} doors in all</span></div>
        <p v-if="!draft.levels.length" class="px-3.5 py-2.5 text-ash">None: this person cannot come in anywhere.</p>
        <div v-for="(g, i) in draft.levels" :key="g.levelId" class="row py-1.5">
          <details class="min-w-0 flex-1"><summary class="font-semibold">{{ level(g.levelId)?.name }}</summary><p v-for="e in level(g.levelId)?.entries" :key="`${e.doorId} ${e.scheduleId}`" class="note pl-4">{{ site.doorName(e.doorId) }} · {{ scheduleName(e.scheduleId) }}</p></details>
          <DateRange v-model:from="g.from" v-model:until="g.until" :what="level(g.levelId)?.name ?? 'level'" :problem="fields[`levels[${i}].from`] || fields[`levels[${i}].until`]" />
          <button class="btn btn-quiet px-1" @click="draft.levels.splice(i, 1)">Take away</button>
        </div>
        <div v-if="free.length" class="row flex-wrap gap-1.5"><span class="note">Give</span><button v-for="l in free" :key="l.id" class="btn px-2.5 py-0.5" @click="draft.levels.push({ levelId: l.id })">{{ l.name }}</button></div>
        <p v-else-if="!levels.length" class="row text-[13px]"><RouterLink class="underline" to="/people/levels/new">Make the first access level</RouterLink></p>
      </section>
      <section v-if="id" class="card">
        <div class="card-head"><h2>PIN</h2><span class="note">{{ hasPin ? 'has one' : 'has none' }}</span></div>
        <form class="row gap-2" @submit.prevent="setPin(pin)">
          <input v-model="pin" class="field w-32! font-mono" inputmode="numeric" autocomplete="off" :maxlength="pins?.length" :placeholder="`${pins?.length ?? 4} digits`" aria-label="New PIN" /><button class="btn" :disabled="pin.length !== pins?.length">{{ hasPin ? 'Change it' : 'Set it' }}</button>
          <button v-if="hasPin" type="button" class="btn btn-quiet px-1" @click="setPin('')">Take it away</button><span class="note">The last digit plus 1 grants too, and calls for help silently.</span>
        </form>
      </section>
    </div>
    <template #aside>
      <p v-if="dirty && id" class="card p-3 text-[13px]">1 person; takes effect when sent.</p>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" :save-label="id ? 'Save' : 'Add the person'" @save="save" @discard="id ? edit.discard() : edit.leave('/people')" />
      <template v-if="id">
        <h2>Lately</h2>
        <div class="card text-[13px]">
          <p v-if="!events.length" class="p-3 text-ash">Has not been at a door yet.</p>
          <RouterLink v-for="e in events" :key="e.id" :to="`/watch?person=${id}`" class="row items-start py-1.5 hover:bg-lime"><span class="w-[74px] shrink-0 font-mono text-[11px] whitespace-nowrap text-ash">{{ dateOf(e.at, e.zone) }}<br />{{ timeOf(e.at, e.zone) }}</span><span>{{ e.headline }}<span class="note block text-[12px]">{{ e.door }}</span></span></RouterLink>
        </div>
      </template>
    </template>
  </SheetFrame>
</template>
