<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import PickList from '../../ui/PickList.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useRemoval } from '../../ui/removal'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Group']>({
  kind: 'group',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id ? fetchObject('group', props.id, signal) : { rev: 0, value: (await usualRules()).group },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/groups/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/groups', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/groups/${v.value.id}`)),
})
const { draft, fields } = edit
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
  <RuleSheet
    :id="id"
    kind="group"
    of="Group"
    noun="group"
    under="Group: who fills a part where several people come in together"
    :back="{ name: 'All rules', path: '/rules' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
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
    </template>
    <template #aside>
      <UsedBy v-if="id" :id="id" none="No rule names it yet." />
      <div class="card p-3 text-[13px] leading-relaxed">
        <p>The members of a department are in it too, and those who join later.</p>
      </div>
    </template>
  </RuleSheet>
</template>
