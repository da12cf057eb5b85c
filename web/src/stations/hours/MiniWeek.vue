<script setup lang="ts">
import { modeClass } from '../../words'

defineProps<{ week: { start: number; end: number; mode?: string }[][]; otherwise?: string }>()
const pct = (m: number) => `${(m / 1440) * 100}%`
</script>

<template>
  <span class="flex gap-1" aria-hidden="true">
    <span
      v-for="(day, d) in week"
      :key="d"
      class="relative h-4 flex-1 overflow-hidden border border-seam"
      :class="otherwise ? modeClass(otherwise) : 'bg-lime'"
    >
      <span
        v-for="(s, i) in day.filter((x) => x.start < 1440)"
        :key="i"
        class="absolute inset-y-0"
        :class="modeClass(s.mode ?? 'open')"
        :style="{ left: pct(s.start), width: pct(Math.min(s.end, 1440) - s.start) }"
      />
      <span
        v-for="(s, i) in week[(d + 6) % 7]!.filter((x) => x.end > 1440)"
        :key="`t${i}`"
        class="absolute inset-y-0"
        :class="modeClass(s.mode ?? 'open')"
        :style="{ left: pct(Math.max(0, s.start - 1440)), width: pct(s.end - Math.max(1440, s.start)) }"
      />
    </span>
  </span>
</template>
