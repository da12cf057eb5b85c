<script lang="ts">
/** The fields whose faults show under When. */
export const whenFields = ['dates', 'day', 'month', 'nth', 'weekday', 'offset', 'days', 'kind']
</script>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import { readDays } from '../../dates'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DateField from '../../ui/DateField.vue'
import { days } from '../../words'

/** When a holiday is: on dates, or by a rule for every year. */
type Holiday = Schemas['Holiday']
const draft = defineModel<Holiday>({ required: true })
defineProps<{ fields: Record<string, string> }>()
const site = useSite()

const kinds: Record<string, string> = {
  dates: 'on a date, or several',
  'every year': 'every year on a date',
  'nth weekday': 'on the nth weekday of a month',
  'from Easter': 'at a distance from Easter',
}
const months = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]
function kind(k: Holiday['kind']) {
  const d = draft.value
  if (d.kind === k) return
  const first = d.dates?.[0]
  d.kind = k
  d.month ||= first ? Number(first.slice(5, 7)) : 1
  d.day ||= first ? Number(first.slice(8, 10)) : 1
  d.nth ||= 1
  d.weekday ??= 0
  d.offset ??= 0
  d.dates ??= []
}
const dates = computed({
  get: () => (draft.value.dates ?? []).join(', '),
  set: (text: string) => {
    draft.value.dates = readDays(text, site.today())
  },
})
const add = (d: string | undefined) => {
  if (d && !draft.value.dates?.includes(d)) draft.value.dates = [...(draft.value.dates ?? []), d].sort()
}
</script>

<template>
  <fieldset>
    <legend class="label mb-1">When</legend>
    <ChoiceBar
      class="mb-2"
      :model-value="draft.kind"
      label="When"
      :choices="Object.entries(kinds).map(([value, name]) => ({ value, name }))"
      @update:model-value="(k: string) => kind(k as Holiday['kind'])"
    />
    <div v-if="draft.kind === 'dates'">
      <textarea
        v-model.lazy="dates"
        class="field font-mono text-[13px]"
        rows="2"
        :aria-invalid="!!fields.dates || undefined"
        aria-describedby="when-wrong"
        aria-label="Dates"
        placeholder="2026-12-25, 2027-12-25"
      />
      <p class="mt-1 flex flex-wrap items-center gap-2 text-[12px] text-ash">
        <span>Several with commas, as 2026-12-25 or 25 Dec 2026; or add</span>
        <DateField
          :key="draft.dates?.length"
          :model-value="undefined"
          label="a date"
          placeholder="a date"
          @update:model-value="add"
        />
      </p>
    </div>
    <div v-else class="flex flex-wrap items-center gap-2">
      <template v-if="draft.kind === 'nth weekday'">
        the
        <select
          v-model.number="draft.nth"
          class="field w-auto!"
          :aria-invalid="!!fields.nth || undefined"
          aria-describedby="when-wrong"
          aria-label="Which"
        >
          <option
            v-for="(w, n) in { 1: 'first', 2: 'second', 3: 'third', 4: 'fourth', 5: 'fifth', [-1]: 'last' }"
            :key="n"
            :value="Number(n)"
          >
            {{ w }}
          </option>
        </select>
        <select
          v-model.number="draft.weekday"
          class="field w-auto!"
          :aria-invalid="!!fields.weekday || undefined"
          aria-describedby="when-wrong"
          aria-label="Weekday"
        >
          <option v-for="(d, i) in days" :key="d" :value="i">{{ d }}</option>
        </select>
        of
      </template>
      <input
        v-if="draft.kind === 'every year'"
        v-model.number="draft.day"
        type="number"
        min="1"
        max="31"
        class="field w-16! font-mono"
        :aria-invalid="!!fields.day || undefined"
        aria-describedby="when-wrong"
        aria-label="Day"
      />
      <select
        v-if="draft.kind !== 'from Easter'"
        v-model.number="draft.month"
        class="field w-auto!"
        :aria-invalid="!!fields.month || undefined"
        aria-describedby="when-wrong"
        aria-label="Month"
      >
        <option v-for="(m, i) in months" :key="m" :value="i + 1">{{ m }}</option>
      </select>
      <template v-else
        ><input
          v-model.number="draft.offset"
          type="number"
          class="field w-20! font-mono"
          :aria-invalid="!!fields.offset || undefined"
          aria-describedby="when-wrong"
          aria-label="Days from Easter Sunday"
        />
        days from Easter Sunday <span class="note">−2 is Good Friday, 1 is Easter Monday</span></template
      >
    </div>
    <p id="when-wrong" class="text-[12px] font-semibold text-wine">
      <template v-for="k in whenFields" :key="k"
        ><span v-if="fields[k]" data-wrong class="mt-0.5 block">{{ fields[k] }}</span></template
      >
    </p>
  </fieldset>
</template>
