<script setup lang="ts">
import type { Schemas } from '../api/client'

/** What an alarm area is in, as its controller calls it, and what is left of a delay. */
defineProps<{ state: Schemas['AlarmAreaNow']['state']; called: string; left?: number }>()
const looks: Record<Schemas['AlarmAreaNow']['state'], string> = {
  disarmed: 'border-seam bg-lime text-ink',
  leaving: 'border-amber bg-amber text-amber-ink',
  armed: 'border-basalt bg-basalt text-paper',
  entering: 'border-amber bg-amber text-amber-ink',
  alarm: 'border-wine bg-wine text-paper',
  unknown: 'border-seam text-ash',
}
</script>

<template>
  <span class="pill border px-2.5 py-1 text-[13px] font-semibold" :class="looks[state]"
    >{{ called }}<span v-if="left" class="ml-1.5 font-mono">{{ left }} s</span></span
  >
</template>
