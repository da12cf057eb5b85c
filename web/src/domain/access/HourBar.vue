<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

/** The hours of a day at which a door lets somebody in; those at which it is free are dotted. Now is a needle. */
const props = defineProps<{ pieces: Schemas['Piece'][]; minute: number; label: string }>()
const clock = (m: number) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`
const words = computed(
  () =>
    `${props.label}: ` +
    (props.pieces.map((p) => `${clock(p.start)} to ${clock(p.end)}${p.free ? ', free' : ''}`).join(', ') ||
      'at no time'),
)
const percent = (m: number) => `${(m / 1440) * 100}%`
</script>

<template>
  <span
    class="relative block h-3.5 overflow-hidden rounded-[2px] bg-seam/60"
    role="img"
    :aria-label="words"
    :title="words"
  >
    <span
      v-for="p in pieces"
      :key="p.start"
      class="absolute inset-y-0"
      :class="p.free ? 'mode-free' : 'bg-kelp/45'"
      :style="{ left: percent(p.start), width: percent(p.end - p.start) }"
    />
    <span v-if="minute >= 0" class="absolute inset-y-0 w-[2px] bg-wine" :style="{ left: percent(minute) }" />
  </span>
</template>
