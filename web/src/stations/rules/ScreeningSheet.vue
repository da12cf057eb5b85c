<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PickList from '../../ui/PickList.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Screening']>({
  kind: 'screening',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id ? fetchObject('screening', props.id, signal) : { rev: 0, value: (await usualRules()).screening },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/screenings/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/screenings', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/screening/${v.value.id}`)),
})
const lists = ['departmentIds', 'personIds', 'deskIds', 'passIds'] as const
edit.place((p) => lists.some((l) => p.startsWith(l)) || p === 'logOnly' || p === 'off')
const { draft, fields } = edit
const wrong = (list: string) => Object.entries(fields.value).find(([p]) => p.startsWith(list))?.[1]
const meaning = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/screening', { body, signal })),
)
type Lasting = Schemas['Screening']['lasts']
const lastings = [
  { value: 'midnight', name: 'until midnight' },
  { value: 'hours', name: 'for hours' },
  { value: 'days', name: 'for days' },
  { value: 'withdrawn', name: 'until withdrawn' },
] as { value: Lasting; name: string }[]
const lasts = computed({
  get: () => draft.value!.lasts,
  set: (v: Lasting) => {
    draft.value!.lasts = v
    if (v === 'hours' || v === 'days') draft.value!.count ||= v === 'hours' ? 4 : 3
    else delete draft.value!.count
  },
})
const level = computed({
  get: () => draft.value!.levelId ?? 0,
  set: (id: number) => {
    if (id) draft.value!.levelId = id
    else delete draft.value!.levelId
  },
})
const remove = useRemoval(edit, {
  kind: 'screening',
  id: props.id,
  follows: () => 'Once sent, what its people usually may counts at once. History can bring it back.',
  to: '/rules/screening',
})
const refused = [
  { value: false, name: 'is refused' },
  { value: true, name: 'comes in, and it is noted' },
]
const logOnly = computed({ get: () => !!draft.value!.logOnly, set: (v: boolean) => (draft.value!.logOnly = v) })
</script>

<template>
  <RuleSheet
    :id="id"
    kind="screening"
    of="Screening"
    noun="screening"
    under="Screening: people who must be cleared before what they usually may counts"
    :words="meaning?.words ?? '…'"
    :wrong="meaning?.wrong"
    :back="{ name: 'All screenings', path: '/rules/screening' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <h2 class="mb-1.5">Who is screened</h2>
      <div class="mb-3 grid grid-cols-2 gap-3 max-md:grid-cols-1">
        <PickList
          v-model="draft.departmentIds"
          kind="department"
          title="Departments"
          add="Screen a department"
          none="None. Who joins one later is screened too."
          :problem="wrong('departmentIds')"
        />
        <PickList
          v-model="draft.personIds"
          kind="person"
          title="People"
          add="Screen a person"
          none="Nobody by themselves."
          :problem="wrong('personIds')"
        />
      </div>
      <section class="card mb-3 space-y-3 p-3.5" aria-label="Until they are cleared">
        <h2>Until they are cleared</h2>
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-slot="f" of="Screening" field="levelId" label="Only this level counts"
            ><ObjectPicker
              :id="f.id"
              v-model="level"
              :invalid="f.invalid"
              kind="level"
              class="w-64"
              label="Only this level counts"
              :besides="[{ id: 0, name: 'none: nothing opens' }]"
          /></FormField>
          <div>
            <span class="label mb-0.5 block">Elsewhere whoever is not cleared</span>
            <ChoiceBar v-model="logOnly" label="Elsewhere whoever is not cleared" :choices="refused" />
          </div>
        </div>
        <p v-if="draft.logOnly" class="border-l-4 border-seam pl-3 text-[13px] text-ash">
          Logging only: this keeps nobody out. Doors open for people who are not cleared, and the log says so.
        </p>
        <p v-if="wrong('logOnly')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('logOnly') }}</p>
      </section>
      <section class="card mb-3 space-y-3 p-3.5" aria-label="How they are cleared">
        <h2>How they are cleared, and for how long</h2>
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-slot="f" of="Screening" field="lasts"
            ><ChoiceBar v-bind="f.bind" v-model="lasts" label="Cleared" :choices="lastings"
          /></FormField>
          <FormField
            v-if="draft.lasts === 'hours' || draft.lasts === 'days'"
            v-slot="f"
            of="Screening"
            field="count"
            :label="draft.lasts === 'hours' ? 'Hours' : 'Days, through the last minute'"
            ><input v-model.number="draft.count" v-bind="f.bind" type="number" class="field w-24! font-mono"
          /></FormField>
          <p v-else-if="fields.count" data-wrong class="text-[12px] font-semibold text-wine">{{ fields.count }}</p>
        </div>
        <label class="flex items-center gap-2 text-[13.5px]"
          ><input v-model="draft.off" type="checkbox" /> not in use</label
        >
        <p v-if="wrong('off')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('off') }}</p>
      </section>
      <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
        <PickList
          v-model="draft.deskIds"
          kind="door"
          title="By a person at the screen"
          note="a card at the reader in of these doors brings up the record"
          add="Add a desk's reader"
          none="No reader: people are chosen from the list."
          :problem="wrong('deskIds')"
        />
        <PickList
          v-model="draft.passIds"
          kind="door"
          title="By coming in"
          note="whoever goes through is cleared"
          add="Add a door that clears"
          none="No door clears by itself."
          :problem="wrong('passIds')"
        />
      </div>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>{{ meaning?.effect ?? '…' }}</p>
        <p>Ways out ask for no clearing. A free door asks nothing of anybody.</p>
      </div>
    </template>
  </RuleSheet>
</template>
