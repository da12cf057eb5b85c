<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import GrantList from '../../domain/person/GrantList.vue'
import MemberList from '../../domain/person/MemberList.vue'
import { useConsequence } from '../../ui/consequence'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import EffectCard from '../../ui/EffectCard.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import { many } from '../../words'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Department']>({
  kind: 'department',
  id: props.id,
  name: (d) => d.name,
  load: async (signal) =>
    props.id ? fetchObject('department', props.id, signal) : { rev: 0, value: { id: 0, name: '', levels: [] } },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/departments/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/departments', { body: value })),
  added: (v) => void (!props.id && router.replace(`/people/departments/${v.value.id}`)),
})
const { draft, dirty, missing, phase } = edit
const members = ref(0)
const effect = useConsequence(() => (props.id && dirty.value ? { department: draft.value } : undefined))
const remove = useRemoval(edit, {
  kind: 'department',
  id: props.id,
  follows: () => 'Only a department without members can be removed. History can bring it back.',
  to: '/people/departments',
})
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Department' : 'New department')">
    <template #title
      ><FormField v-if="draft && !missing" v-slot="f" of="Department" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the department"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under
      >Department<template v-if="id"> of {{ many(members, 'person', 'people') }}</template></template
    >
    <template #actions
      ><BesideNav v-if="id" :id="id" kind="department" /><RouterLink
        v-if="id"
        class="btn"
        :to="`/prove/matrix?rows=departments&who=${encodeURIComponent(draft?.name ?? '')}`"
        >Where it leads</RouterLink
      ><button v-if="id && !missing" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="7"
      what="This department"
    />
    <div v-else class="space-y-3">
      <GrantList
        v-model="draft.levels"
        title="What it gives its members"
        none="Nothing: its members have only what they are given themselves."
      />
      <section class="card space-y-1.5 p-3.5 text-[13.5px]" aria-label="For all members">
        <h2>For all members</h2>
        <label class="flex items-center gap-2"
          ><input v-model="draft.alwaysPin" type="checkbox" /> always with PIN, whatever the door asks</label
        >
        <label class="flex items-center gap-2"
          ><input v-model="draft.extendedTime" type="checkbox" /> need longer to pass</label
        >
      </section>
      <MemberList v-if="id" :id="id" @count="(n) => (members = n)" />
    </div>
    <template #aside>
      <template v-if="dirty && id"
        ><h2>What this edit does</h2>
        <EffectCard :effect="effect" none="…"
      /></template>
      <SheetSave
        :sheet="edit"
        of="Department"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the department'"
        :discard="id ? edit.discard : () => edit.leave('/people/departments')"
      />
      <SentNow v-if="id && !dirty" />
      <HistoryCard v-if="id" :id="id" />
    </template>
  </SheetFrame>
</template>
