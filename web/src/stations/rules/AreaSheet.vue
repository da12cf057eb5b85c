<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import BesideNav from '../../ui/BesideNav.vue'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import PickList from '../../ui/PickList.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'

const props = defineProps<{ id: number }>()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Area']>({
  kind: 'area',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) =>
    props.id
      ? fetchObject('area', props.id, signal)
      : { rev: 0, value: { id: 0, name: '', mode: 'refuse', forget: '04:00', exemptIds: [] } },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/areas/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/areas', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/areas/${v.value.id}`)),
})
const { draft, dirty, fields, missing, phase } = edit
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
  <SheetFrame :title="draft?.name || (id ? 'Area' : 'New area')">
    <template #title
      ><FormField v-if="draft && !missing" v-slot="f" of="Area" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the area"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under>Area: a room, or several, that readers lead into and out of</template>
    <template #actions
      ><BesideNav v-if="id" :id="id" kind="area" /><RouterLink class="btn" to="/rules/areas">All areas</RouterLink
      ><button v-if="id && !missing" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
      what="This area"
    />
    <template v-else>
      <p class="mb-3 min-h-7 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed" role="status">
        {{ words?.words ?? '…' }}
      </p>
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
      <SheetSave
        :sheet="edit"
        of="Area"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the area'"
        :discard="id ? edit.discard : () => edit.leave('/rules/areas')"
      />
      <SentNow v-if="id && !dirty" />
      <UsedBy v-if="id" :id="id" none="No door leads there yet." />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
