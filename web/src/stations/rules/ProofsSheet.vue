<script setup lang="ts">
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import CombinationList from '../../domain/rule/CombinationList.vue'
import SchedulePick from '../../domain/level/SchedulePick.vue'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DoorTree from '../../ui/DoorTree.vue'
import FormField from '../../ui/FormField.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Proofs']>({
  kind: 'several proofs',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) => {
    if (props.id) return fetchObject('several proofs', props.id, signal)
    return { rev: 0, value: (await usualRules(Number(route.query.door ?? 0))).proofs }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/proofs/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/proofs', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/proofs/${v.value.id}`)),
})
edit.place((p) => p.startsWith('doorIds'))
const { draft, dirty, fields } = edit
const { nameOf } = useNames(() => draft.value?.doorIds.slice(0, 6) ?? [])
const meaning = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/proofs', { body, signal })),
)
const kinds = [
  { value: 'combination', name: 'People together' },
  { value: 'approval', name: 'Somebody approves' },
  { value: 'another proof', name: 'Another proof of the same person' },
] as { value: Schemas['Proofs']['kind']; name: string }[]
function setKind(kind: Schemas['Proofs']['kind']) {
  const d = draft.value!
  d.kind = kind
  if (kind !== 'combination') d.combinations = []
  else if (!d.combinations.length) d.combinations = [{ total: 2, parts: [{ groupId: 0, count: 1 }] }]
}
const remove = useRemoval(edit, {
  kind: 'several proofs',
  id: props.id,
  follows: () => 'Once sent, one proof is enough at its doors. History can bring it back.',
  to: '/rules',
})
</script>

<template>
  <RuleSheet
    :id="id"
    kind="several proofs"
    of="Proofs"
    noun="rule"
    under="Several people or several proofs"
    :words="meaning?.words ?? '…'"
    :back="{ name: 'All rules', path: '/rules' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template #actions
      ><RouterLink v-if="id && draft?.doorIds[0]" class="btn" :to="`/prove/${draft.doorIds[0]}`"
        >Try it at the bench</RouterLink
      ></template
    >
    <template v-if="draft">
      <div class="grid grid-cols-[minmax(0,1fr)_280px] gap-3 max-xl:grid-cols-1">
        <div class="space-y-3">
          <section class="card space-y-3 p-3.5" aria-label="What is wanted">
            <h2>What is wanted</h2>
            <ChoiceBar
              :model-value="draft.kind"
              label="What is wanted"
              :choices="kinds"
              @update:model-value="setKind"
            />
            <CombinationList
              v-if="draft.kind === 'combination'"
              v-model="draft.combinations"
              :ways="meaning?.ways ?? []"
            />
            <p v-else-if="draft.kind === 'approval'" class="text-[13.5px]">
              <template v-if="meaning?.who.length"
                >Approved by {{ meaning.who.slice(0, 8).join(', ')
                }}<template v-if="meaning.who.length > 8"> and {{ meaning.who.length - 8 }} more</template>.</template
              ><template v-else
                >Nobody who comes in there approves yet: let a level of theirs
                <RouterLink class="underline" to="/people/levels">approve others</RouterLink>.</template
              >
            </p>
            <p v-else class="text-[13.5px] text-ash">
              A card and a PIN, a card and a phone: two different kinds. One kind twice does not count.
            </p>
          </section>
          <section class="card space-y-3 p-3.5" aria-label="When">
            <h2>When</h2>
            <div class="flex flex-wrap items-center gap-2">
              <SchedulePick v-model="draft.scheduleId" label="When it holds" />
            </div>
            <p v-if="fields.scheduleId" data-wrong class="text-[12px] font-semibold text-wine">
              {{ fields.scheduleId }}
            </p>
            <div class="flex flex-wrap items-end gap-4">
              <FormField v-slot="f" of="Proofs" field="window"
                ><input v-model.number="draft.window" v-bind="f.bind" type="number" class="field w-24! font-mono"
              /></FormField>
              <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
                ><input v-model="draft.both" type="checkbox" /> on the way out too</label
              >
              <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
                ><input v-model="draft.off" type="checkbox" /> not in use</label
              >
            </div>
          </section>
        </div>
        <section class="card p-3.5" aria-label="Where">
          <h2 class="mb-2">Where</h2>
          <p v-if="draft.doorIds.length" class="mb-1.5 text-[13px]">
            {{ draft.doorIds.slice(0, 6).map(nameOf).join(', ')
            }}{{ draft.doorIds.length > 6 ? ` and ${draft.doorIds.length - 6} more` : '' }}
          </p>
          <DoorTree v-model="draft.doorIds" label="Doors where it holds" class="h-[430px]" />
          <p v-if="fields.doorIds" data-wrong class="mt-1 text-[12px] font-semibold text-wine">{{ fields.doorIds }}</p>
        </section>
      </div>
    </template>
    <template #before>
      <template v-if="draft && (dirty || !id) && meaning"
        ><h2>What this edit does</h2>
        <p class="card p-3 text-[14px] leading-relaxed" role="status" aria-label="What this edit does">
          <b>{{ meaning.effect }}</b> It takes effect once sent.
        </p></template
      >
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Every read is a decision of its own first: who may not enter by level and hours does not count.</p>
        <p>A refused card, or too long a pause, starts over. All who are granted pass together.</p>
      </div>
    </template>
  </RuleSheet>
</template>
