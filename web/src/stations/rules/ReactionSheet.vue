<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import ReactionTry from '../../domain/rule/ReactionTry.vue'
import TargetTree from '../../domain/rule/TargetTree.vue'
import { usualRules } from '../../domain/rule/usual'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PickList from '../../ui/PickList.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
type Reaction = Schemas['Reaction']
const edit = useSheet<Reaction>({
  kind: 'reaction',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id
      ? fetchObject('reaction', props.id, signal)
      : { rev: 0, value: (await usualRules(Number(route.query.door ?? 0))).reaction },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/reactions/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/reactions', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/reactions/${v.value.id}`)),
})
edit.place((p) => /^(at|to|inputIds|sourceIds|outputIds|alarmIds|armIds|off|until)\b/.test(p))
const { draft, fields } = edit
const wrong = (field: string) => Object.entries(fields.value).find(([p]) => p.startsWith(field))?.[1]
const words = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/reaction', { body, signal })),
)
const offer = useComputed(
  'reaction offer',
  () => [],
  (signal) => ask(api.GET('/api/reaction-offer', { signal })),
)
/** What happens elsewhere than at doors may be chosen, or happen at any. */
const wheres = [
  { place: 'inputs', field: 'inputIds', kind: 'input', title: 'Inputs', none: 'Any input.', add: 'Choose an input' },
  {
    place: 'controllers',
    field: 'sourceIds',
    kind: 'controller',
    title: 'Controllers',
    none: 'Any controller.',
    add: 'Choose a controller',
  },
  {
    place: 'alarm areas',
    field: 'alarmIds',
    kind: 'alarm area',
    title: 'Alarm areas',
    none: 'Any alarm area.',
    add: 'Choose an alarm area',
  },
] as const
const where = computed(() => wheres.find((w) => w.place === happening.value?.place))
const happening = computed(() => offer.data.value?.happenings.find((h) => h.code === draft.value?.when))
/** What is said of one happening means nothing to another. */
const when = computed({
  get: () => draft.value!.when,
  set: (v: Reaction['when']) => {
    const d = draft.value!
    d.when = v
    d.at = []
    d.inputIds = []
    d.sourceIds = []
    d.alarmIds = []
    for (const k of ['reason', 'areaId', 'count', 'hour', 'until'] as const) delete d[k]
    if (v === 'occupied') d.count = 1
    if (v === 'hour') d.hour = '22:00'
  },
})
const doing = computed({
  get: () => draft.value!.do,
  set: (v: Reaction['do']) => {
    const d = draft.value!
    d.do = v
    d.to = []
    d.outputIds = []
    d.armIds = []
    for (const k of ['emergencyId', 'mode', 'seconds', 'until', 'text', 'address'] as const) delete d[k]
    if (v === 'hold') Object.assign(d, { mode: 'free', seconds: 60 })
  },
})
const atDoors = computed(() => ['release', 'hold', 'back'].includes(draft.value?.do ?? ''))
const atOutputs = computed(() => ['output on', 'output off'].includes(draft.value?.do ?? ''))
const lasts = computed({
  get: () => (draft.value!.until ? 'until' : draft.value!.seconds ? 'time' : 'open'),
  set: (v: string) => {
    const d = draft.value!
    delete d.until
    delete d.seconds
    if (v === 'until') d.until = true
    if (v === 'time') d.seconds = 60
  },
})
const modes = ['free', 'card', 'PIN', 'card or PIN', 'card and PIN', 'barred']
const settings = useComputed(
  'settings here',
  () => [],
  (signal) => ask(api.GET('/api/settings', { signal })),
)
const remove = useRemoval(edit, {
  kind: 'reaction',
  id: props.id,
  follows: () => 'Once sent, nothing follows any more. History can bring it back.',
  to: '/rules/reactions',
})
const emergencies = useComputed(
  'emergencies now',
  () => [],
  (signal) => ask(api.GET('/api/rules', { signal })),
)
</script>

<template>
  <RuleSheet
    :id="id"
    kind="reaction"
    of="Reaction"
    noun="reaction"
    under="Reaction: when this happens here, do that there"
    :words="words?.words ?? '…'"
    :back="{ name: 'All reactions', path: '/rules/reactions' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <p
        class="mb-3 min-h-5 text-[13px]"
        :class="words?.alone ? 'font-semibold text-kelp' : 'text-ash'"
        role="status"
        aria-label="What it needs"
      >
        {{ words?.needs }}
      </p>
      <div class="grid grid-cols-2 items-start gap-3 max-lg:grid-cols-1">
        <section class="card space-y-3 p-3.5" aria-label="When this happens">
          <FormField v-slot="f" of="Reaction" field="when"
            ><select v-bind="f.bind" v-model="when" class="field">
              <option v-for="h in offer.data.value?.happenings ?? []" :key="h.code" :value="h.code">
                {{ h.words }}{{ h.code === 'hour' ? ' …' : '' }}
              </option>
            </select></FormField
          >
          <FormField v-if="draft.when === 'refused'" v-slot="f" of="Reaction" field="reason"
            ><select
              v-bind="f.bind"
              class="field"
              :value="draft.reason ?? ''"
              @change="draft.reason = ($event.target as HTMLSelectElement).value"
            >
              <option value="">for any reason</option>
              <option v-for="r in offer.data.value?.reasons ?? []" :key="r.code" :value="r.code">{{ r.words }}</option>
            </select></FormField
          >
          <FormField v-if="draft.when === 'hour'" v-slot="f" of="Reaction" field="hour"
            ><input v-bind="f.bind" v-model="draft.hour" class="field w-28! font-mono" placeholder="22:00"
          /></FormField>
          <template v-if="draft.when === 'occupied'">
            <FormField v-slot="f" of="Reaction" field="areaId"
              ><ObjectPicker
                :id="f.id"
                :model-value="draft.areaId ?? 0"
                kind="area"
                label="Area"
                :invalid="f.invalid"
                @update:model-value="(i: number) => (draft!.areaId = i)"
            /></FormField>
            <FormField v-slot="f" of="Reaction" field="count"
              ><input v-bind="f.bind" v-model.number="draft.count" type="number" class="field w-28! font-mono"
            /></FormField>
          </template>
          <div v-if="happening?.place === 'doors'">
            <span class="label mb-0.5 block">At · none chosen: at any door</span>
            <TargetTree v-model="draft.at" label="Doors where it happens" all="any door, and those added later" />
            <p v-if="wrong('at')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('at') }}</p>
          </div>
          <PickList
            v-if="where"
            :model-value="draft[where.field] ?? []"
            :kind="where.kind"
            :title="where.title"
            :none="where.none"
            :add="where.add"
            :problem="wrong(where.field)"
            @update:model-value="(ids) => (draft![where!.field] = ids)"
          />
          <FormField v-slot="f" of="Reaction" field="scheduleId"
            ><ObjectPicker
              :id="f.id"
              v-model="draft.scheduleId"
              kind="schedule"
              label="During"
              :invalid="f.invalid"
              :describedby="f.bind['aria-describedby']"
          /></FormField>
        </section>
        <section class="card space-y-3 p-3.5" aria-label="Do that">
          <FormField v-slot="f" of="Reaction" field="do"
            ><select v-bind="f.bind" v-model="doing" class="field">
              <option v-for="d in offer.data.value?.doings ?? []" :key="d.code" :value="d.code">{{ d.words }}</option>
            </select></FormField
          >
          <FormField v-if="draft.do === 'hold'" v-slot="f" of="Reaction" field="mode"
            ><select v-bind="f.bind" v-model="draft.mode" class="field">
              <option v-for="m in modes" :key="m" :value="m">{{ m }}</option>
            </select></FormField
          >
          <div v-if="atDoors">
            <span class="label mb-0.5 block">Doors</span>
            <TargetTree v-model="draft.to" label="Doors to which it is done" all="every door, and those added later" />
            <p v-if="wrong('to')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('to') }}</p>
          </div>
          <PickList
            v-if="atOutputs"
            v-model="draft.outputIds"
            kind="output"
            title="Outputs"
            none="No output yet."
            add="Choose an output"
            :problem="wrong('outputIds')"
          />
          <PickList
            v-if="draft.do === 'arm' || draft.do === 'disarm'"
            :model-value="draft.armIds ?? []"
            kind="alarm area"
            title="Alarm areas"
            none="No alarm area yet."
            add="Choose an alarm area"
            :problem="wrong('armIds')"
            @update:model-value="(ids) => (draft!.armIds = ids)"
          />
          <FormField v-if="draft.do === 'lockdown' || draft.do === 'fire'" v-slot="f" of="Reaction" field="emergencyId"
            ><select
              v-bind="f.bind"
              class="field"
              :value="draft.emergencyId ?? 0"
              @change="draft.emergencyId = Number(($event.target as HTMLSelectElement).value)"
            >
              <option :value="0" disabled>Choose one that was made ready</option>
              <option v-for="x in emergencies.data.value?.emergencies ?? []" :key="x.id" :value="x.id">
                {{ x.name }}
              </option>
            </select></FormField
          >
          <div v-if="atOutputs || draft.do === 'hold'" class="space-y-2">
            <span class="label mb-0.5 block">For so long</span>
            <ChoiceBar
              v-model="lasts"
              label="For so long"
              :choices="[
                ...(draft.do === 'output on' && happening?.ends
                  ? [{ value: 'until', name: 'until that has ended' }]
                  : []),
                { value: 'time', name: 'for a time' },
                { value: 'open', name: draft.do === 'hold' ? 'until it is let go' : 'until told otherwise' },
              ]"
            />
            <p v-if="wrong('until')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('until') }}</p>
            <FormField v-if="lasts === 'time'" v-slot="f" of="Reaction" field="seconds"
              ><input v-bind="f.bind" v-model.number="draft.seconds" type="number" class="field w-32! font-mono"
            /></FormField>
          </div>
          <FormField
            v-if="['tell', 'mail', 'camera'].includes(draft.do)"
            v-slot="f"
            of="Reaction"
            field="text"
            :label="draft.do === 'camera' ? 'Camera' : 'Words'"
            ><input v-bind="f.bind" v-model="draft.text" class="field"
          /></FormField>
          <FormField v-if="draft.do === 'mail'" v-slot="f" of="Reaction" field="address"
            ><input v-bind="f.bind" v-model="draft.address" class="field" placeholder="keeper@example.org"
          /></FormField>
          <FormField v-if="draft.do === 'call'" v-slot="f" of="Reaction" field="address"
            ><select
              v-bind="f.bind"
              class="field"
              :value="draft.address ?? ''"
              @change="draft.address = ($event.target as HTMLSelectElement).value"
            >
              <option value="" disabled>Choose an allowed address</option>
              <option v-for="c in settings.data.value?.value.callouts ?? []" :key="c.name" :value="c.name">
                {{ c.name }} · {{ c.url }}
              </option>
            </select></FormField
          >
          <label class="flex items-center gap-2 text-[13.5px]"
            ><input v-model="draft.off" type="checkbox" /> not in use</label
          >
          <p v-if="wrong('off')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('off') }}</p>
        </section>
      </div>
      <ReactionTry class="mt-3" :reaction="draft" />
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>What begins and ends at one controller works with the server down. The rest goes through the server.</p>
        <p>Reactions that would set each other off for ever are refused, with the loop.</p>
        <p>One that is set off more than 20 times in a minute rests until the minute is over, and an event says so.</p>
      </div>
    </template>
  </RuleSheet>
</template>
