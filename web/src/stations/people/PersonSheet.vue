<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import HeldLevels from '../../domain/person/HeldLevels.vue'
import CredentialList from '../../domain/person/CredentialList.vue'
import LatelyAt from '../../domain/person/LatelyAt.vue'
import PersonPIN from '../../domain/person/PersonPIN.vue'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import DateRange from '../../ui/DateRange.vue'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'

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
const { draft, dirty, missing, phase, fields } = edit
const said = ref('')
const remove = useRemoval(edit, {
  kind: 'person',
  id: props.id,
  follows: () => 'Their cards open nothing after the next send. History can bring them back.',
  to: '/people',
  button: 'Remove them',
})
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
      <CredentialList v-model="draft.credentials" :fields="fields" :whose="draft.name" @said="(w) => (said = w)" />
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
      <LatelyAt v-if="id" :id="id" />
    </template>
  </SheetFrame>
</template>
