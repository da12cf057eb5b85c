<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import WatchedList from '../../domain/rule/WatchedList.vue'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import EffectCard from '../../ui/EffectCard.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PickList from '../../ui/PickList.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { removalWords, useConsequence } from '../../ui/consequence'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['AlarmArea']>({
  kind: 'alarm area',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id
      ? fetchObject('alarm area', props.id, signal)
      : { rev: 0, value: (await usualRules(Number(route.query.door ?? 0))).alarmArea },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/alarm-areas/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/alarm-areas', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/alarm-areas/${v.value.id}`)),
})
edit.place((p) => /^(doorIds|inputs|alarmIds|armedIds|delayIds|reads|single|keyWorks|off)\b/.test(p))
const { draft, dirty, fields } = edit
const wrong = (field: string) => Object.entries(fields.value).find(([p]) => p.startsWith(field))?.[1]
const meaning = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/alarm-area', { body, signal })),
)
const effect = useConsequence(() => (dirty.value ? { alarmArea: draft.value } : undefined))
const reads = computed({
  get: () => draft.value!.reads ?? 0,
  set: (n: number) => {
    const d = draft.value!
    if (n) d.reads = n
    else {
      delete d.reads
      delete d.single
    }
  },
})
const key = computed({
  get: () => draft.value!.keyId ?? 0,
  set: (id: number) => {
    const d = draft.value!
    if (id) Object.assign(d, { keyId: id, keyWorks: d.keyWorks ?? 'holds' })
    else {
      delete d.keyId
      delete d.keyWorks
    }
  },
})
const works = computed({
  get: () => draft.value!.keyWorks ?? 'holds',
  set: (v: NonNullable<Schemas['AlarmArea']['keyWorks']>) => (draft.value!.keyWorks = v),
})
const schedule = computed({
  get: () => draft.value!.scheduleId ?? 0,
  set: (id: number) => {
    if (id) draft.value!.scheduleId = id
    else delete draft.value!.scheduleId
  },
})
const delays = ['exitDelay', 'entryDelay', 'sounds'] as const
const outputs = [
  { field: 'alarmIds', title: 'On during an alarm', none: 'Nothing sounds.', note: 'siren, lamp, dialler' },
  { field: 'armedIds', title: 'On while armed', none: 'Nothing tells that it is armed.', note: 'lamp, another panel' },
  { field: 'delayIds', title: 'On while a delay runs', none: 'Nothing tells of it.', note: 'buzzer' },
] as const
const remove = useRemoval(edit, {
  kind: 'alarm area',
  id: props.id,
  follows: async () =>
    (draft.value?.scheduleId ? await removalWords(props.id) : '') +
    'Once sent, nothing there is watched any more, and an alarm that is on ends. History can bring it back.',
  to: '/rules/alarm-areas',
})
</script>

<template>
  <RuleSheet
    :id="id"
    kind="alarm area"
    of="AlarmArea"
    noun="alarm area"
    under="Alarm area: watched while nobody is to be there"
    :words="meaning?.arms ?? '…'"
    long
    :wrong="meaning?.wrong"
    :back="{ name: 'All alarm areas', path: '/rules/alarm-areas' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <div class="mb-3 grid grid-cols-2 items-start gap-3 max-lg:grid-cols-1">
        <PickList
          v-model="draft.doorIds"
          kind="door"
          title="Doors"
          none="No door yet."
          add="Choose a door"
          :problem="wrong('doorIds')"
        />
        <WatchedList v-model="draft.inputs" :problem="wrong('inputs')" />
      </div>
      <section class="card mb-3 space-y-3 p-3.5" aria-label="Arming and disarming">
        <h2>Arming and disarming</h2>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
          <span class="label">By card, at its doors</span>
          <ChoiceBar
            v-model="reads"
            label="Reads of a card that arm and disarm"
            :choices="[
              { value: 0, name: 'no card' },
              { value: 2, name: 'two reads in a row' },
              { value: 3, name: 'three reads in a row' },
            ]"
          />
          <label v-if="draft.reads" class="flex items-center gap-2 text-[13.5px]"
            ><input v-model="draft.single" type="checkbox" /> one read disarms</label
          >
        </div>
        <p v-if="wrong('reads')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('reads') }}</p>
        <p v-if="wrong('single')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('single') }}</p>
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-slot="f" of="AlarmArea" field="scheduleId" class="w-64"
            ><ObjectPicker
              :id="f.id"
              v-model="schedule"
              kind="schedule"
              label="Armed during"
              :besides="[{ id: 0, name: 'no schedule' }]"
              :invalid="f.invalid"
          /></FormField>
          <FormField v-slot="f" of="AlarmArea" field="keyId" class="w-64"
            ><ObjectPicker
              :id="f.id"
              v-model="key"
              kind="input"
              label="Armed by the input"
              :besides="[{ id: 0, name: 'no input' }]"
              :invalid="f.invalid"
          /></FormField>
          <ChoiceBar
            v-if="key"
            v-model="works"
            label="How the input works"
            :choices="[
              { value: 'holds', name: 'armed while active' },
              { value: 'turns', name: 'each press turns' },
              { value: 'arms', name: 'only arms' },
            ]"
          />
        </div>
        <p v-if="wrong('keyWorks')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('keyWorks') }}</p>
        <p class="text-[13.5px] leading-relaxed">{{ meaning?.keeps }}</p>
      </section>
      <section class="card mb-3 space-y-3 p-3.5" aria-label="Delays and alarm">
        <h2>Delays and alarm</h2>
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-for="d in delays" :key="d" v-slot="f" of="AlarmArea" :field="d"
            ><input v-model.number="draft[d]" v-bind="f.bind" type="number" class="field w-28! font-mono"
          /></FormField>
        </div>
        <p class="text-[13.5px] leading-relaxed">{{ meaning?.raises }}</p>
      </section>
      <div class="grid grid-cols-3 items-start gap-3 max-lg:grid-cols-1">
        <PickList
          v-for="o in outputs"
          :key="o.field"
          v-model="draft[o.field]"
          kind="output"
          :title="o.title"
          :none="o.none"
          :note="o.note"
          add="Choose an output"
          :problem="wrong(o.field)"
        />
      </div>
      <label class="mt-3 flex items-center gap-2 text-[13.5px]"
        ><input v-model="draft.off" type="checkbox" /> not in use</label
      >
      <p v-if="wrong('off')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('off') }}</p>
    </template>
    <template #before>
      <template v-if="dirty">
        <h2>What this does</h2>
        <EffectCard :effect="effect" none="…" />
      </template>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>{{ meaning?.standIn }}</p>
        <p>Who arms and who disarms by card is said by access levels that lead to its doors.</p>
      </div>
      <UsedBy v-if="id" :id="id" none="No reaction names it." />
    </template>
  </RuleSheet>
</template>
