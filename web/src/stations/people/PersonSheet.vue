<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import HeldLevels from '../../domain/person/HeldLevels.vue'
import EnrolCard from '../../domain/person/EnrolCard.vue'
import PersonPIN from '../../domain/person/PersonPIN.vue'
import BesideNav from '../../ui/BesideNav.vue'
import DateRange from '../../ui/DateRange.vue'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import { sure } from '../../ui/sure'
import { dateOf, timeOf } from '../../words'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }

const blank = (): Schemas['Person'] => ({
  id: 0,
  name: '',
  department: '',
  suspended: false,
  extendedTime: false,
  alwaysPin: false,
  credentials: [],
  levels: [],
})
const edit = useSheet<Schemas['Person']>({
  kind: 'person',
  id: props.id,
  name: (p) => p.name,
  load: async (signal) => (props.id ? fetchObject('person', props.id, signal) : { rev: 0, value: blank() }),
  store: (value, rev) => {
    for (const d of [value, ...value.credentials, ...value.levels]) {
      if (!d.from) delete d.from
      if (!d.until) delete d.until
    }
    return props.id
      ? ask(api.PUT('/api/people/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/people', { body: value }))
  },
  added: (v) => void (!props.id && router.replace(`/people/${v.value.id}`)),
})
edit.place((path) => /^((credentials\[\d+\]\.)?(from|until)|credentials\[\d+\]\.value)$/.test(path))
const { draft, stored, dirty, missing, phase, fields } = edit
const said = ref('')
const facility = ref<number>()
const number = ref<number>()
const kind = ref<'phone' | 'QR pass' | 'plate'>('phone')
const shown = ref('')
const format = ref<'26-bit' | 'raw'>('26-bit')

const lately = useComputed(
  'lately',
  () => [props.id],
  (signal) => ask(api.GET('/api/events', { params: { query: { person: props.id, quiet: true, limit: 6 } }, signal })),
  () => props.id > 0,
)
const events = computed<Schemas['Event'][]>(() => lately.data.value ?? [])
const again = useDebounceFn(() => lately.refetch(), 150)
onScopeDispose(listen((n) => n.type === 'event' && props.id && n.event.personId === props.id && void again()))

function took(c: { format: '26-bit' | 'raw'; facility: number; number: number; words: string; door: string }) {
  add(c.format, c.facility, c.number)
  said.value = `Card ${c.words} was presented at ${c.door}; it is ${draft.value!.name || 'this person'}'s once saved.`
}
function add(f: '26-bit' | 'raw', fac: number, num: number) {
  draft.value!.credentials.push({
    kind: 'card',
    format: f,
    value: f === 'raw' ? String(num) : `${fac}-${String(num).padStart(5, '0')}`,
    status: 'active',
  })
}
function addOther() {
  draft.value!.credentials.push({ kind: kind.value, value: shown.value.trim(), status: 'active' })
  shown.value = ''
}
function addTyped() {
  if (number.value === undefined) return
  add(format.value, format.value === 'raw' ? 0 : (facility.value ?? 0), number.value)
  number.value = undefined
}
async function remove() {
  if (
    !(await sure(
      `Remove ${stored.value!.value.name}?`,
      'Their cards open nothing after the next send. History can bring them back.',
      'Remove them',
    ))
  )
    return
  try {
    await ask(api.DELETE('/api/people/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/people')
  } catch (e) {
    edit.problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame
    :title="draft?.name || (id ? 'Person' : 'New person')"
    :under="draft?.department || 'Somebody who may come in'"
  >
    <template #actions>
      <BesideNav v-if="id" :id="id" kind="person" /><RouterLink v-if="id" class="btn" to="/people/new"
        >Next new person</RouterLink
      ><button v-if="id" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
      what="This person"
    />
    <div v-if="draft && !missing" class="space-y-3">
      <p v-if="said" role="status" class="font-semibold">{{ said }}</p>
      <section class="card grid grid-cols-4 gap-3 p-3.5">
        <FormField v-slot="f" class="col-span-2" of="Person" field="name"
          ><input v-model="draft.name" v-bind="f.bind" class="field" :autofocus="!id"
        /></FormField>
        <FormField v-slot="f" class="col-span-2" of="Person" field="department"
          ><input v-model="draft.department" v-bind="f.bind" class="field"
        /></FormField>
        <div class="col-span-4 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
          <span class="flex items-center gap-1"
            >Admitted
            <DateRange
              v-model:from="draft.from"
              v-model:until="draft.until"
              what="person"
              :problem="fields.from || fields.until"
          /></span>
          <label class="flex items-center gap-1.5"><input v-model="draft.suspended" type="checkbox" /> suspended</label
          ><label class="flex items-center gap-1.5"
            ><input v-model="draft.extendedTime" type="checkbox" /> extended unlock time</label
          ><label class="flex items-center gap-1.5"
            ><input v-model="draft.alwaysPin" type="checkbox" /> always with PIN</label
          >
        </div>
      </section>
      <section class="card">
        <div class="card-head">
          <h2>Credentials</h2>
          <EnrolCard @took="took" />
        </div>
        <p v-if="!draft.credentials.length" class="px-3.5 py-2.5 text-ash">
          No card. Let the person present one at a reader, or type its number.
        </p>
        <div v-for="(c, i) in draft.credentials" :key="i" class="row py-1.5">
          <span class="w-16 text-ash">{{ c.format ?? c.kind }}</span><b
            class="w-28 truncate font-mono"
            :title="c.value"
            >{{ c.value }}</b
          >
          <select v-model="c.status" class="field w-32! py-0.5" :aria-label="`State of ${c.kind} ${c.value}`">
            <option v-for="s in ['active', 'lost', 'stolen', 'suspended']" :key="s">{{ s }}</option>
          </select>
          <DateRange
            v-model:from="c.from"
            v-model:until="c.until"
            :what="`${c.kind} ${c.value}`"
            :problem="fields[`credentials[${i}].from`] || fields[`credentials[${i}].until`]"
          />
          <span v-if="fields[`credentials[${i}].value`]" data-wrong class="text-[12px] font-semibold text-wine">{{
            fields[`credentials[${i}].value`]
          }}</span>
          <button
            class="btn btn-quiet ml-auto px-1"
            :aria-label="`Take away ${c.kind} ${c.value}`"
            @click="draft.credentials.splice(i, 1)"
          >
            Take away
          </button>
        </div>
        <form class="row gap-2" @submit.prevent="addTyped">
          <select v-model="format" class="field w-24!" aria-label="Card format">
            <option>26-bit</option>
            <option>raw</option>
          </select>
          <input
            v-if="format !== 'raw'"
            v-model.number="facility"
            type="number"
            min="0"
            class="field w-32! font-mono"
            placeholder="facility"
            aria-label="Facility code"
          /><input
            v-model.number="number"
            type="number"
            min="0"
            class="field w-36! font-mono"
            placeholder="card number"
            aria-label="Card number"
          /><button class="btn" :disabled="number === undefined">Add</button>
        </form>
        <form class="row gap-2" @submit.prevent="addOther">
          <select v-model="kind" class="field w-24!" aria-label="Kind of credential">
            <option>phone</option>
            <option>QR pass</option>
            <option>plate</option>
          </select>
          <input
            v-model="shown"
            class="field w-66! font-mono"
            :placeholder="
              { phone: 'what the phone shows', 'QR pass': 'text of the pass', plate: 'plate of the vehicle' }[kind]
            "
            aria-label="What is shown"
          /><button class="btn" :disabled="!shown.trim()">Add</button>
        </form>
      </section>
      <HeldLevels v-model="draft.levels" />
      <PersonPIN v-if="id" :id="id" @said="(w) => (said = w)" />
    </div>
    <template #aside>
      <p v-if="dirty && id" class="card p-3 text-[13px]">1 person; takes effect when sent.</p>
      <SheetSave
        :sheet="edit"
        of="Person"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the person'"
        :discard="id ? edit.discard : () => edit.leave('/people')"
      />
      <template v-if="id">
        <h2>Lately</h2>
        <div class="card text-[13px]">
          <p v-if="!events.length" class="p-3 text-ash">Has not been at a door yet.</p>
          <RouterLink
            v-for="e in events"
            :key="e.id"
            :to="`/watch?person=${id}`"
            class="row items-start py-1.5 hover:bg-lime"
            ><span class="w-[74px] shrink-0 font-mono text-[11px] whitespace-nowrap text-ash"
              >{{ dateOf(e.at, e.zone) }}<br />{{ timeOf(e.at, e.zone) }}</span
            ><span
              >{{ e.headline }}<span class="note block text-[12px]">{{ e.door }}</span></span
            ></RouterLink
          >
        </div>
      </template>
    </template>
  </SheetFrame>
</template>
