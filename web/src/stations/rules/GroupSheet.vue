<script setup lang="ts">
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import BesideNav from '../../ui/BesideNav.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import PickList from '../../ui/PickList.vue'
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
const { draft, dirty, fields, missing, phase } = edit
edit.place((p) => /^(departmentIds|personIds)/.test(p))
const wrong = (list: string) => Object.entries(fields.value).find(([p]) => p.startsWith(list))?.[1]
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
      <PickList
        v-for="l in lists"
        :key="l.key"
        v-model="draft[l.key]"
        :kind="l.kind"
        :title="l.title"
        :add="l.add"
        :none="l.none"
        :problem="wrong(l.key)"
      />
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
