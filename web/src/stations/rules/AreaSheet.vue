<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import PickList from '../../ui/PickList.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Area']>({
  kind: 'area',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id ? fetchObject('area', props.id, signal) : { rev: 0, value: (await usualRules()).area },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/areas/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/areas', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/areas/${v.value.id}`)),
})
const { draft, fields } = edit
edit.place((p) => p.startsWith('exemptIds'))
const wrong = () => Object.entries(fields.value).find(([p]) => p.startsWith('exemptIds'))?.[1]
const words = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/area', { body, signal })),
)
/** A number that may be left empty, which is none. */
const number = (key: 'timed' | 'most') =>
  computed({
    get: () => draft.value?.[key] || '',
    set: (v: number | string) => (draft.value![key] = Number(v) || 0),
  })
const timed = number('timed')
const most = number('most')
const modes = [
  { value: 'refuse', name: 'is refused' },
  { value: 'log', name: 'is only noted' },
  { value: 'off', name: 'does not matter' },
] as { value: Schemas['Area']['mode']; name: string }[]
const remove = useRemoval(edit, {
  kind: 'area',
  id: props.id,
  follows: () => 'Only an area to which no door leads can be removed. History can bring it back.',
  to: '/rules/areas',
})
</script>

<template>
  <RuleSheet
    :id="id"
    kind="area"
    of="Area"
    noun="area"
    under="Area: a room, or several, that readers lead into and out of"
    :words="words?.words ?? '…'"
    :back="{ name: 'All areas', path: '/rules/areas' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template v-if="draft">
      <section class="card mb-3 space-y-3 p-3.5" aria-label="Coming in again">
        <h2>Who is inside and comes in again</h2>
        <ChoiceBar v-model="draft.mode" label="Who comes in again" :choices="modes" />
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-slot="f" of="Area" field="timed"
            ><input
              v-model="timed"
              v-bind="f.bind"
              type="number"
              class="field w-44! font-mono"
              placeholder="until they leave"
          /></FormField>
          <FormField v-slot="f" of="Area" field="forget"
            ><input v-model="draft.forget" v-bind="f.bind" class="field w-28! font-mono" placeholder="never"
          /></FormField>
          <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
            ><input v-model="draft.strict" type="checkbox" /> strict off the network: it goes on by what it knows</label
          >
        </div>
      </section>
      <section class="card mb-3 space-y-3 p-3.5" aria-label="How many">
        <h2>How many are inside</h2>
        <div class="flex flex-wrap items-end gap-4">
          <FormField v-slot="f" of="Area" field="most"
            ><input v-model="most" v-bind="f.bind" type="number" class="field w-28! font-mono" placeholder="no limit"
          /></FormField>
          <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
            ><input v-model="draft.two" type="checkbox" /> nobody comes in alone while it is empty</label
          >
        </div>
      </section>
      <PickList
        v-model="draft.exemptIds"
        kind="person"
        title="Exempt"
        note="never refused for where they are; counted all the same"
        add="Exempt a person"
        none="Nobody."
        :problem="wrong()"
      />
    </template>
    <template #aside>
      <UsedBy v-if="id" :id="id" none="No door leads there yet." />
    </template>
  </RuleSheet>
</template>
