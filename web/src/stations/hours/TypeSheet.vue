<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useRemoval } from '../../ui/removal'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useConsequence } from '../../ui/consequence'
import EffectCard from '../../ui/EffectCard.vue'
import { typeWords } from '../../words'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['HolidayType']>({
  kind: 'holiday type',
  id: props.id,
  name: (t) => t.name,
  load: async (signal) =>
    props.id
      ? fetchObject('holiday type', props.id, signal)
      : {
          rev: 0,
          value: { id: 0, name: '', rank: 15, plans: 'default mode' as const, schedules: 'as weekday' as const },
        },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/holiday-types/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/holiday-types', { body: value })),
  added: (v) => void (!props.id && router.replace(`/hours/types/${v.value.id}`)),
})
const { draft, dirty, missing, phase } = edit
const effect = useConsequence(() => (props.id && dirty.value ? { type: draft.value } : undefined))
const remove = useRemoval(edit, {
  kind: 'holiday type',
  id: props.id,
  follows: () => 'History can bring it back.',
  to: '/hours/holidays',
})
const plans = {
  'default mode': [
    'Doors stay in their default mode',
    'A door that would go free stays on card, or whatever its plan says where nothing is painted.',
  ],
  'as weekday': ['Doors do as on the weekday', 'A Thursday stays a Thursday: what goes free goes free.'],
} as const
const schedules = {
  'as weekday': ['Cards work', 'People come in at their usual hours.'],
  closed: [
    'Nobody, not even with a card',
    'Schedules are closed. Those that must run on, such as the cleaners’, say so in their own row.',
  ],
} as const
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Holiday type' : 'New holiday type')">
    <template #under
      >Holiday type: what a sort of holiday means where a plan or a schedule has no answer of its own</template
    >
    <template #actions
      ><button class="btn" @click="router.push('/hours/holidays')">All holidays</button
      ><button v-if="id" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="7"
      what="This holiday type"
    />
    <form v-if="draft && !missing" class="card max-w-[760px] space-y-4 p-4" @submit.prevent="edit.save">
      <div class="grid grid-cols-[1fr_120px] gap-4">
        <FormField v-slot="f" of="HolidayType" field="name"
          ><input v-model="draft.name" v-bind="f.bind" class="field" :autofocus="!id"
        /></FormField>
        <FormField v-slot="f" of="HolidayType" field="rank"
          ><input v-model.number="draft.rank" v-bind="f.bind" type="number" class="field font-mono"
        /></FormField>
      </div>
      <p class="note -mt-2 text-[12.5px]">Two holidays on one date: the higher rank decides, and both are shown.</p>
      <fieldset
        v-for="[label, field, choices] in [
          ['What plans do', 'plans', plans],
          ['What schedules do', 'schedules', schedules],
        ] as const"
        :key="field"
      >
        <legend class="label mb-1">{{ label }}</legend>
        <ChoiceBar
          v-slot="{ choice }"
          :model-value="draft[field]"
          :label="label"
          class="grid-cols-2"
          wide
          look="rounded-lg border border-seam p-3 text-left hover:bg-lime"
          :choices="Object.entries(choices).map(([value, [name, about]]) => ({ value, name, about }))"
          @update:model-value="(v: string) => ((draft as Record<string, unknown>)[field] = v)"
          ><b class="block">{{ choice.name }}</b
          ><span class="note text-[12.5px]">{{ (choice as { about?: string }).about }}</span></ChoiceBar
        >
      </fieldset>
      <p class="border-l-4 border-amber py-0.5 pl-3">{{ typeWords(draft) }}</p>
    </form>
    <template #aside>
      <template v-if="dirty && id"
        ><h2>What this edit does</h2>
        <EffectCard :effect="effect" none="Nothing differs in the next 13 months."
      /></template>
      <SheetSave
        :sheet="edit"
        of="HolidayType"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the type'"
        :discard="id ? edit.discard : () => edit.leave('/hours/holidays')"
      />
      <UsedBy v-if="id" :id="id" none="No holiday is of this type." />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
