<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { useComputed } from '../core/query'
import { useFieldErrors } from '../core/sheet'

/** How the free segments of a door wait for a first card, and what the combination does in words. */
const rule = defineModel<Schemas['FirstCard']>({ required: true })
const props = defineProps<{ planId: number }>()
const sheet = useFieldErrors()
sheet?.place((path) => /^firstCard\.(before|minutes)$/.test(path))
const wrong = (k: string) => sheet?.fields.value[`firstCard.${k}`]
const said = useComputed(
  'first card in words',
  () => [{ ...rule.value }, props.planId],
  (signal) => ask(api.POST('/api/hours/first-card', { body: { rule: rule.value, planId: props.planId }, signal })),
)
const words = ref('')
watch(
  [said.data, said.error],
  () => {
    if (said.data.value || said.error.value) words.value = said.error.value?.message ?? said.data.value!
  },
  { immediate: true },
)
</script>

<template>
  <fieldset class="pt-3">
    <legend class="sr-only">First card</legend>
    <p class="label mb-1.5">First card, where the plan waits for one</p>
    <div class="grid grid-cols-[64px_minmax(0,1fr)] items-center gap-x-2 gap-y-1.5">
      <span class="label">Given by</span
      ><select v-model="rule.who" class="field" aria-label="Who gives the first card">
        <option value="anybody">anybody with access here</option>
        <option value="openers">people whose level opens the day</option>
      </select>
      <span class="label">Counts</span
      ><span class="flex gap-2"
        ><select v-model="rule.counts" class="field" aria-label="From when it counts">
          <option value="start">from the segment’s start</option>
          <option value="minutes">some minutes before the start</option>
          <option value="midnight">any time since midnight</option></select
        ><input
          v-if="rule.counts === 'minutes'"
          v-model.number="rule.before"
          :aria-invalid="!!wrong('before') || undefined"
          type="number"
          min="0"
          max="720"
          class="field w-20! font-mono"
          aria-label="Minutes before"
      /></span>
      <span class="label">Until then</span
      ><select v-model="rule.untilThen" class="field" aria-label="Until then">
        <option value="card">cards work as usual</option>
        <option value="nobody">nobody else enters</option>
      </select>
      <span class="label">How often</span
      ><select v-model="rule.often" class="field" aria-label="How often">
        <option value="segment">for each free segment</option>
        <option value="day">once a day is enough</option>
      </select>
      <span class="label">For</span
      ><span class="flex gap-2"
        ><select v-model="rule.length" class="field" aria-label="For how long">
          <option value="end">the rest of the segment</option>
          <option value="minutes">some minutes, outside free hours too</option></select
        ><input
          v-if="rule.length === 'minutes'"
          v-model.number="rule.minutes"
          :aria-invalid="!!wrong('minutes') || undefined"
          type="number"
          min="1"
          max="720"
          class="field w-20! font-mono"
          aria-label="Free minutes"
      /></span>
    </div>
    <p class="mt-2 border-l-4 border-kelp py-0.5 pl-3 text-[13px]">{{ words }}</p>
    <p
      v-for="k in ['who', 'counts', 'before', 'untilThen', 'often', 'length', 'minutes']"
      v-show="wrong(k)"
      :key="k"
      class="text-[12px] font-semibold text-wine"
    >
      {{ wrong(k) }}
    </p>
  </fieldset>
</template>
