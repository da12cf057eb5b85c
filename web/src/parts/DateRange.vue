<script setup lang="ts">
import { ref } from 'vue'

/** From a first minute through a last day; folded away while there are no dates. */
const from = defineModel<string | undefined>('from')
const until = defineModel<string | undefined>('until')
defineProps<{ what: string; problem?: string }>()
const open = ref(!!from.value || !!until.value)
const words = (d?: string) => {
  const t = new Date(`${d}T12:00:00Z`)
  return /^\d{4}-\d\d-\d\d$/.test(d ?? '') && !Number.isNaN(t.getTime()) ? t.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' }) : ''
}
</script>

<template>
  <span v-if="open" class="flex items-center gap-1.5 text-[13px]">
    <span class="text-ash">from</span><input v-model="from" class="field w-28! py-0.5 font-mono text-[12.5px]" placeholder="2026-11-23" :aria-label="`${what} from`" />
    <span class="text-ash">until</span><input v-model="until" class="field w-28! py-0.5 font-mono text-[12.5px]" placeholder="2026-11-27" :aria-label="`${what} until`" :aria-invalid="!!problem" />
    <span v-if="problem" class="text-[12px] font-semibold text-wine">{{ problem }}</span><span v-else-if="words(until)" class="note text-[12px]">through {{ words(until) }}, 23:59</span>
  </span>
  <button v-else class="btn btn-quiet px-1 py-0 text-[13px]" :aria-label="`Limit ${what} to dates`" @click="open = true">at all dates</button>
</template>
