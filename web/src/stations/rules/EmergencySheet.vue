<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, useAll } from '../../core/query'
import { useSheet } from '../../core/sheet'
import RehearsalCard from '../../domain/rule/RehearsalCard.vue'
import { usualRules } from '../../domain/rule/usual'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DoorTree from '../../ui/DoorTree.vue'
import FormField from '../../ui/FormField.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
type Emergency = Schemas['Emergency']
const edit = useSheet<Emergency>({
  kind: 'emergency',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id
      ? fetchObject('emergency', props.id, signal)
      : { rev: 0, value: (await usualRules())[route.query.does === 'fire' ? 'fire' : 'lockdown'] },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/emergencies/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/emergencies', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/emergencies/${v.value.id}`)),
})
edit.place((p) => /^(targets|overrides|cardEnds|off|reads)/.test(p))
const { draft, fields } = edit
const wrong = (field: string) => Object.entries(fields.value).find(([p]) => p.startsWith(field))?.[1]
const sets = useAll('door set')
const rehearsal = usePreview(
  () => draft.value && { ...draft.value, name: draft.value.name || '-' },
  (body, signal) => ask(api.POST('/api/rules/emergency', { body, signal })),
)
const all = computed({
  get: () => draft.value!.targets.some((t) => t.kind === 'everything'),
  set: (v: boolean) => (draft.value!.targets = v ? [{ kind: 'everything' }] : []),
})
/** The places of one kind among those that it is for. */
const places = (kind: Schemas['Target']['kind']) =>
  computed({
    get: () => draft.value!.targets.filter((t) => t.kind === kind).map((t) => t.id ?? 0),
    set: (ids: number[]) =>
      (draft.value!.targets = [
        ...draft.value!.targets.filter((t) => t.kind !== kind),
        ...ids.map((id) => ({ kind, id })),
      ]),
  })
const doors = places('door')
const floors = places('floor')
const sites = places('site')
const setIds = places('door set')
const does = [
  { value: 'lockdown', name: 'Lockdown: nobody comes in' },
  { value: 'fire release', name: 'Fire release: free for escape' },
] as { value: Emergency['does']; name: string }[]
const what = computed({
  get: () => draft.value!.does,
  set: (v: Emergency['does']) => {
    draft.value!.does = v
    if (v === 'fire release') for (const k of ['overrides', 'reads', 'cardEnds'] as const) delete draft.value![k]
  },
})
const overrides = computed({
  get: () => !!draft.value!.overrides,
  set: (v: boolean) => (draft.value!.overrides = v),
})
const reads = computed({
  get: () => draft.value!.reads ?? 0,
  set: (v: number) => {
    draft.value!.reads = v
    if (!v) delete draft.value!.cardEnds
  },
})
const remove = useRemoval(edit, {
  kind: 'emergency',
  id: props.id,
  follows: () => 'Where it is on it stays on, until it is ended by hand. History can bring it back.',
  to: '/rules/emergencies',
})
</script>

<template>
  <RuleSheet
    :id="id"
    kind="emergency"
    of="Emergency"
    noun="emergency"
    under="Emergency: a lockdown or a fire release that is made ready"
    :words="rehearsal?.words ?? '…'"
    :back="{ name: 'All emergencies', path: '/rules/emergencies' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <div class="grid grid-cols-[minmax(0,1fr)_280px] items-start gap-3 max-xl:grid-cols-1">
        <div class="space-y-3">
          <section class="card space-y-3 p-3.5" aria-label="What it does">
            <FormField v-slot="f" of="Emergency" field="does"
              ><ChoiceBar v-bind="f.bind" v-model="what" label="What it does" :choices="does"
            /></FormField>
            <div v-if="draft.does === 'lockdown'">
              <span class="label mb-0.5 block">Who comes in meanwhile</span>
              <ChoiceBar
                v-model="overrides"
                label="Who comes in meanwhile"
                :choices="[
                  { value: false, name: 'nobody' },
                  { value: true, name: 'by card, those whose level overrides it' },
                ]"
              />
            </div>
            <p v-if="wrong('overrides')" data-wrong class="text-[12px] font-semibold text-wine">
              {{ wrong('overrides') }}
            </p>
          </section>
          <section v-if="draft.does === 'lockdown'" class="card space-y-3 p-3.5" aria-label="By a card">
            <FormField v-slot="f" of="Emergency" field="reads"
              ><ChoiceBar
                v-bind="f.bind"
                v-model="reads"
                label="Reads of a card that start it"
                :choices="[
                  { value: 0, name: 'no card does' },
                  { value: 3, name: '3 reads in a row' },
                  { value: 4, name: '4' },
                  { value: 5, name: '5' },
                ]"
            /></FormField>
            <label v-if="draft.reads" class="flex items-center gap-2 text-[13.5px]"
              ><input v-model="draft.cardEnds" type="checkbox" /> as many reads end it too; else it ends at the
              screen</label
            >
            <p v-if="wrong('cardEnds')" data-wrong class="text-[12px] font-semibold text-wine">
              {{ wrong('cardEnds') }}
            </p>
            <p class="note">
              By somebody whose level starts and ends lockdowns, at any of its doors. Inputs that start it say so
              themselves, in Build, Terminals.
            </p>
          </section>
          <p v-else-if="wrong('reads') || wrong('cardEnds')" data-wrong class="text-[12px] font-semibold text-wine">
            {{ wrong('reads') ?? wrong('cardEnds') }}
          </p>
          <label class="flex items-center gap-2 text-[13.5px]"
            ><input v-model="draft.off" type="checkbox" /> not in use</label
          >
          <p v-if="wrong('off')" data-wrong class="text-[12px] font-semibold text-wine">{{ wrong('off') }}</p>
        </div>
        <section class="card p-3.5" aria-label="Doors">
          <h2 class="mb-2">Doors</h2>
          <label class="mb-2 flex items-center gap-2 text-[13.5px]"
            ><input v-model="all" type="checkbox" /> every door, and those added later</label
          >
          <DoorTree
            v-if="!all"
            v-model="doors"
            v-model:floors="floors"
            v-model:sites="sites"
            v-model:set-ids="setIds"
            label="Doors of the emergency"
            places
            :sets="(sets.data.value ?? []).map((s) => s.value)"
            class="h-[232px]"
          />
          <p v-if="wrong('targets')" data-wrong class="mt-1 text-[12px] font-semibold text-wine">
            {{ wrong('targets') }}
          </p>
        </section>
      </div>
      <RehearsalCard class="mt-3" :rehearsal="rehearsal" />
    </template>
    <template #aside>
      <UsedBy v-if="id" :id="id" none="No input starts it." />
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Fire release is above every lockdown and every hold. Ways out always work.</p>
        <p>
          What a card or an input starts holds at that controller even without the server; the others hear of it through
          the server.
        </p>
      </div>
    </template>
  </RuleSheet>
</template>
