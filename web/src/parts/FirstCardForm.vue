<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, type Schemas } from '../api/client'

/** How the free segments of a door wait for a first card, and what the combination does in words. */
const rule = defineModel<Schemas['FirstCard']>({ required: true })
const props = defineProps<{ start: number; fields: Record<string, string> }>()
const words = ref('')
watch([rule, () => props.start], async () => {
  words.value = await ask(api.POST('/api/hours/first-card', { body: { rule: rule.value, start: props.start } })).catch((e: Error) => e.message)
}, { deep: true, immediate: true })
</script>

<template>
  <fieldset class="col-span-6 border-t border-seam pt-3">
    <legend class="sr-only">First card</legend>
    <p class="label mb-1.5">First card, where the plan waits for one</p>
    <div class="grid grid-cols-2 gap-2.5">
      <select v-model="rule.who" class="field" aria-label="Who gives the first card"><option value="anybody">anybody with access here</option><option value="openers">people whose level opens the day</option></select>
      <span class="flex gap-2"><select v-model="rule.counts" class="field" aria-label="From when it counts"><option value="start">counts from the segment’s start</option><option value="minutes">counts some minutes before</option><option value="midnight">counts from midnight</option></select><input v-if="rule.counts === 'minutes'" v-model.number="rule.before" type="number" min="0" max="720" class="field w-20! font-mono" aria-label="Minutes before" /></span>
      <select v-model="rule.untilThen" class="field" aria-label="Until then"><option value="card">until then cards work as usual</option><option value="nobody">until then nobody else enters</option></select>
      <select v-model="rule.often" class="field" aria-label="How often"><option value="segment">for each free segment</option><option value="day">once a day is enough</option></select>
      <span class="flex gap-2"><select v-model="rule.length" class="field" aria-label="For how long"><option value="end">free to the segment’s end</option><option value="minutes">free for some minutes</option></select><input v-if="rule.length === 'minutes'" v-model.number="rule.minutes" type="number" min="1" max="720" class="field w-20! font-mono" aria-label="Free minutes" /></span>
    </div>
    <p class="mt-2 border-l-4 border-kelp py-0.5 pl-3 text-[13px]">{{ words }}</p>
    <p v-for="k in ['before', 'minutes']" v-show="fields[`firstCard.${k}`]" :key="k" class="text-[12px] font-semibold text-wine">{{ fields[`firstCard.${k}`] }}</p>
  </fieldset>
</template>
