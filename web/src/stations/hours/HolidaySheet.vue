<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchAll, fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useRemoval } from '../../ui/removal'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import TimeField from '../../ui/TimeField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { removalWords, useConsequence } from '../../ui/consequence'
import { useSite } from '../../core/site'
import { clock, clock24, readTime } from '../../clock'
import EffectCard from '../../ui/EffectCard.vue'
import HolidayEffect from './HolidayEffect.vue'
import WhenFields, { whenFields } from './WhenFields.vue'

const props = defineProps<{ id: number }>()
const site = useSite()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }

const edit = useSheet<Schemas['Holiday']>({
  kind: 'holiday',
  id: props.id,
  name: (h) => h.name,
  load: async (signal) => {
    if (props.id) return fetchObject('holiday', props.id, signal)
    const list = await fetchAll('holiday type', signal)
    const date = String(route.query.date ?? '')
    const siteIds = route.query.site && site.overview!.sites.length > 1 ? [Number(route.query.site)] : []
    return {
      rev: 0,
      value: {
        id: 0,
        name: '',
        typeId: list[0]?.value.id ?? 0,
        siteIds,
        kind: 'dates' as const,
        dates: date ? [date] : [],
        start: 0,
        end: 1440,
      },
    }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/holidays/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/holidays', { body: value })),
  added: (v) => void (!props.id && router.replace(`/hours/holidays/${v.value.id}`)),
})
edit.place((path) => [...whenFields, 'start', 'end'].includes(path))
const { draft, dirty, fields, missing, phase } = edit

/** One day is what is meant where nothing is said. */
function lasts(n: number) {
  if (n === 1 && !draft.value!.days) return
  draft.value!.days = n
}
const part = computed({
  get: () => draft.value!.start > 0 || draft.value!.end < 1440,
  set: (on: boolean) => {
    draft.value!.start = on ? 840 : 0
    draft.value!.end = 1440
  },
})
const time = (which: 'start' | 'end') =>
  computed({
    get: () => clock24(draft.value![which]),
    set: (text: string) => {
      const m = readTime(text)
      fields.value = {
        ...fields.value,
        [which]: m === undefined ? `“${text}” is not a time; write it as ${clock(1080)}` : '',
      }
      if (m !== undefined) draft.value![which] = which === 'end' ? m || 1440 : m // it ends at the midnight to come
    },
  })
const from = time('start')
const to = time('end')
const effect = useConsequence(() => (props.id && dirty.value ? { holiday: draft.value } : undefined))
const remove = useRemoval(edit, {
  kind: 'holiday',
  id: props.id,
  follows: async () =>
    `On its dates everything runs as on any other day. ${await removalWords(props.id)}History can bring it back.`,
  to: '/hours/holidays',
})
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Holiday' : 'New holiday')">
    <template #under>Holiday: from local midnight to midnight, unless it takes part of the day</template>
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
      what="This holiday"
    />
    <form v-if="draft && !missing" class="card max-w-[760px] space-y-4 p-4" @submit.prevent="edit.save">
      <div class="grid grid-cols-2 gap-4">
        <FormField v-slot="f" of="Holiday" field="name"
          ><input v-model="draft.name" v-bind="f.bind" class="field" :autofocus="!id"
        /></FormField>
        <FormField v-slot="f" of="Holiday" field="typeId"
          ><ObjectPicker
            :id="f.id"
            v-model="draft.typeId"
            kind="holiday type"
            label="Type"
            :invalid="f.invalid"
            :describedby="f.bind['aria-describedby']"
        /></FormField>
      </div>
      <WhenFields v-model="draft" :fields="fields" />
      <div class="flex flex-wrap items-center gap-x-6 gap-y-2">
        <label class="flex items-center gap-2"
          >It lasts
          <input
            :value="draft.days || 1"
            type="number"
            min="1"
            max="60"
            class="field w-16! font-mono"
            :aria-invalid="!!fields.days || undefined"
            aria-describedby="when-wrong"
            aria-label="How many days"
            @input="lasts(Number(($event.target as HTMLInputElement).value))"
          />
          day{{ (draft.days || 1) > 1 ? 's' : '' }}</label
        >
        <label class="flex items-center gap-1.5"><input v-model="part" type="checkbox" /> only part of the day</label>
        <span v-if="part" class="flex items-center gap-1.5"
          ><TimeField v-model="from" label="From" :invalid="!!fields.start" /> to
          <TimeField v-model="to" label="To" :invalid="!!fields.end"
        /></span>
        <span v-if="fields.start || fields.end" class="text-[12px] font-semibold text-wine">{{
          fields.start || fields.end
        }}</span>
      </div>
      <fieldset v-if="site.overview!.sites.length > 1">
        <legend class="label mb-1">Where</legend>
        <label v-for="s in site.overview!.sites" :key="s.id" class="mr-4 inline-flex items-center gap-1.5"
          ><input v-model="draft.siteIds" type="checkbox" :value="s.id" /> {{ s.name }}</label
        ><span class="note">{{ draft.siteIds.length ? '' : 'none ticked: everywhere' }}</span>
      </fieldset>
    </form>
    <template #aside>
      <template v-if="dirty && id && effect"
        ><h2>What this edit does</h2>
        <EffectCard :effect="effect" none="Nothing differs."
      /></template>
      <SheetSave
        :sheet="edit"
        of="Holiday"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the holiday'"
        :discard="id ? edit.discard : () => edit.leave('/hours/holidays')"
      />
      <template v-if="draft && !missing"
        ><h2>What this holiday does</h2>
        <HolidayEffect :holiday="draft"
      /></template>
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
