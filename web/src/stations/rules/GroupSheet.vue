<script setup lang="ts">
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import BesideNav from '../../ui/BesideNav.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useRemoval } from '../../ui/removal'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Group']>({
  kind: 'group',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id
      ? fetchObject('group', props.id, signal)
      : { rev: 0, value: { id: 0, name: '', personIds: [], departmentIds: [] } },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/groups/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/groups', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/groups/${v.value.id}`)),
})
const { draft, dirty, missing, phase } = edit
const { nameOf } = useNames(() => [...(draft.value?.departmentIds ?? []), ...(draft.value?.personIds ?? [])])
const lists = [
  { key: 'departmentIds', kind: 'department', title: 'Departments', add: 'Add a department', none: 'None.' },
  { key: 'personIds', kind: 'person', title: 'People', add: 'Add a person', none: 'Nobody by themselves.' },
] as const
const remove = useRemoval(edit, {
  kind: 'group',
  id: props.id,
  follows: () => 'Only a group that no rule names can be removed. History can bring it back.',
  to: '/rules',
})
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Group' : 'New group')">
    <template #title
      ><FormField v-if="draft && !missing" v-slot="f" of="Group" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the group"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under>Group: who fills a part where several people come in together</template>
    <template #actions
      ><BesideNav v-if="id" :id="id" kind="group" /><RouterLink class="btn" to="/rules">All rules</RouterLink
      ><button v-if="id && !missing" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="7"
      what="This group"
    />
    <div v-else class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
      <section v-for="l in lists" :key="l.key" class="card self-start" :aria-label="l.title">
        <div class="card-head">
          <h2>{{ l.title }}</h2>
          <span class="note">{{ draft[l.key].length || '' }}</span>
        </div>
        <p v-if="!draft[l.key].length" class="px-3.5 py-2.5 text-[13.5px] text-ash">{{ l.none }}</p>
        <div v-for="x in draft[l.key]" :key="x" class="row">
          <span class="min-w-0 flex-1"><PeekName :id="x" :kind="l.kind" :name="nameOf(x)" /></span
          ><button
            type="button"
            class="btn btn-quiet px-1"
            :aria-label="`Take out ${nameOf(x)}`"
            @click="draft[l.key] = draft[l.key].filter((i) => i !== x)"
          >
            Take out
          </button>
        </div>
        <div class="row">
          <ObjectPicker
            :model-value="0"
            :kind="l.kind"
            class="w-full"
            :label="l.add"
            :placeholder="l.add"
            :leave-out="draft[l.key]"
            @chosen="(i: number) => i && (draft![l.key] = [...draft![l.key], i])"
          />
        </div>
      </section>
    </div>
    <template #aside>
      <SheetSave
        :sheet="edit"
        of="Group"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the group'"
        :discard="id ? edit.discard : () => edit.leave('/rules')"
      />
      <SentNow v-if="id && !dirty" />
      <UsedBy v-if="id" :id="id" none="No rule names it yet." />
      <div class="card p-3 text-[13px] leading-relaxed">
        <p>The members of a department are in it too, and those who join later.</p>
      </div>
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
