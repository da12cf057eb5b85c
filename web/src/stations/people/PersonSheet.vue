<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { client, fetchObject, keys, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import CredentialList from '../../domain/person/CredentialList.vue'
import DepartmentPicker from '../../domain/person/DepartmentPicker.vue'
import GrantList from '../../domain/person/GrantList.vue'
import LatelyAt from '../../domain/person/LatelyAt.vue'
import PersonFace from '../../domain/person/PersonFace.vue'
import PersonPIN from '../../domain/person/PersonPIN.vue'
import PersonRecord from '../../domain/person/PersonRecord.vue'
import WhereCard from '../../domain/access/WhereCard.vue'
import StandingList from '../../domain/rule/StandingList.vue'
import { useAttempt } from '../../ui/attempt'
import { useConsequence } from '../../ui/consequence'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import DateRange from '../../ui/DateRange.vue'
import EffectCard from '../../ui/EffectCard.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import StrongText from '../../ui/StrongText.vue'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const { attempt, busy, problem } = useAttempt()

const blank = (): Schemas['Person'] => ({
  id: 0,
  name: '',
  departmentIds: [],
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
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/people/{id}', { params: path, body: { rev, value: tidy(value) } }))
      : ask(api.POST('/api/people', { body: tidy(value) })),
  added: (v) => void (!props.id && router.replace(`/people/${v.value.id}`)),
})
/** What stands empty is not written. */
function tidy(p: Schemas['Person']): Schemas['Person'] {
  for (const d of [p, ...p.credentials, ...p.levels]) {
    if (!d.from) delete d.from
    if (!d.until) delete d.until
  }
  for (const k of ['number', 'phone', 'email', 'note'] as const) if (!p[k]) delete p[k]
  return p
}
edit.place((path) => /^((credentials\[\d+\]\.)?(from|until)|credentials\[\d+\]\.value)$/.test(path))
const { draft, dirty, missing, phase, fields } = edit
const said = ref('')
const where = ref<Schemas['Where']>()
const effect = useConsequence(() => (props.id && dirty.value ? { person: tidy(copyOf(draft.value!)) } : undefined))
const copyOf = (p: Schemas['Person']) => JSON.parse(JSON.stringify(p)) as Schemas['Person']
const asked = computed<Schemas['WhereAsked'] | undefined>(() => {
  if (!draft.value) return undefined
  return dirty.value || !props.id
    ? { edit: { person: { ...tidy(copyOf(draft.value)), name: draft.value.name || '-' } } }
    : { person: props.id }
})
/** What they hold and were not given themselves: through departments, and inside levels. */
const through = computed(() => (where.value?.held ?? []).filter((h) => h.by))

const suspend = () =>
  attempt(async () => {
    const r = await ask(api.POST('/api/people/{id}/suspend', { params: path }))
    said.value = r.words
    client.setQueryData(keys.object('person', props.id), await fetchObject('person', props.id))
  })
const remove = useRemoval(edit, {
  kind: 'person',
  id: props.id,
  follows: () => 'Their cards open nothing after the next send. History can bring them back.',
  to: '/people',
  button: 'Remove them',
})
const standings = useComputed(
  'standings',
  () => [props.id],
  (signal) => ask(api.GET('/api/people/{id}/screenings', { params: { path: { id: props.id } }, signal })),
  () => props.id > 0,
)
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Person' : 'New person')">
    <template #title>
      <div v-if="draft && !missing" class="flex items-center gap-3">
        <PersonFace :id="id" :name="draft.name" />
        <div class="min-w-0 flex-1">
          <FormField v-slot="f" of="Person" field="name" quiet
            ><input
              v-model="draft.name"
              v-bind="f.bind"
              class="title-field"
              placeholder="Name of the person"
              aria-label="Name"
              :autofocus="!id"
          /></FormField>
          <DepartmentPicker v-model="draft.departmentIds" :number="draft.number" />
        </div></div
    ></template>
    <template #actions>
      <BesideNav v-if="id" :id="id" kind="person" /><RouterLink v-if="id" class="btn" to="/people/new"
        >Next new person</RouterLink
      ><button v-if="id" class="btn" @click="remove">Remove</button
      ><button
        v-if="id && draft && !draft.suspended"
        class="btn border-wine text-wine"
        :disabled="busy || dirty"
        :title="dirty ? 'Save or discard first' : 'Told to the controllers at once, ahead of everything else'"
        @click="suspend"
      >
        Suspend now
      </button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
      what="This person"
    />
    <template v-if="draft && !missing">
      <p v-if="where" class="mb-3 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed">
        <StrongText :text="inClock(where.sentence)" />
        <RouterLink
          v-if="id"
          class="ml-2 text-[13px] underline"
          :to="`/prove?kind=where&person=${id}`"
          title="May they, where, and when: a question about them"
          >Ask</RouterLink
        >
      </p>
      <p v-if="said" role="status" class="mb-3 font-semibold">{{ said }}</p>
      <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
      <div class="grid grid-cols-[minmax(0,4fr)_minmax(0,6fr)] items-start gap-3 max-[1180px]:grid-cols-1">
        <div class="space-y-3">
          <section v-if="standings.data.value?.length" class="card" aria-label="Screening">
            <div class="card-head"><h2>Screening</h2></div>
            <StandingList :person="id" :name="draft.name" :list="standings.data.value" />
          </section>
          <CredentialList v-model="draft.credentials" :fields="fields" :whose="draft.name" @said="(w) => (said = w)" />
          <PersonPIN v-if="id" :id="id" @said="(w) => (said = w)" />
          <GrantList
            v-model="draft.levels"
            title="Why they may"
            :held="through"
            none="Nothing: this person cannot come in anywhere."
          />
          <section class="card space-y-1.5 p-3.5 text-[13.5px]" aria-label="How they pass">
            <label class="flex items-center gap-2"
              ><input v-model="draft.extendedTime" type="checkbox" /> needs longer to pass</label
            >
            <label class="flex items-center gap-2"
              ><input v-model="draft.alwaysPin" type="checkbox" /> always with PIN</label
            >
            <label class="flex items-center gap-2"
              ><input v-model="draft.pinInstead" type="checkbox" /> PIN instead of a card</label
            >
            <label class="flex items-center gap-2"
              ><input v-model="draft.suspended" type="checkbox" /> suspended: opens nothing</label
            >
            <p class="flex flex-wrap items-center gap-2">
              Admitted
              <DateRange
                v-model:from="draft.from"
                v-model:until="draft.until"
                what="person"
                :problem="fields.from || fields.until"
              />
            </p>
          </section>
        </div>
        <WhereCard
          title="Where they can go"
          :asked="asked"
          none="Nowhere. Give them an access level, a place, or a department that has one."
          @told="(w) => (where = w)"
        />
      </div>
    </template>
    <template #aside>
      <template v-if="dirty && id"
        ><h2>What this edit does</h2>
        <EffectCard :effect="effect" none="…"
      /></template>
      <SheetSave
        :sheet="edit"
        of="Person"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the person'"
        :discard="id ? edit.discard : () => edit.leave('/people')"
      />
      <SentNow v-if="id && !dirty" />
      <LatelyAt v-if="id" :id="id" />
      <PersonRecord v-if="draft && !missing" v-model="draft" />
      <HistoryCard v-if="id" :id="id" />
    </template>
  </SheetFrame>
</template>
