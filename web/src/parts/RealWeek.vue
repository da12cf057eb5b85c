<script setup lang="ts">
import type { Schemas } from '../api/client'
import { clock, days, modeClass } from '../words'

defineProps<{ week: Schemas['RealDay'][]; today: string; minute: number }>()
const left = (m: number) => `${(m / 1440) * 100}%`
const marks = [0, 3, 6, 9, 12, 15, 18, 21, 24]
</script>

<template>
  <div class="px-3.5 pt-2 pb-3.5">
    <div class="ml-[62px] relative h-5 font-mono text-[11px] text-ash" aria-hidden="true">
      <span v-for="h in marks" :key="h" class="absolute -translate-x-1/2" :style="{ left: left(h * 60) }">{{ String(h).padStart(2, '0') }}</span>
    </div>
    <div v-for="(d, i) in week" :key="d.date" class="mb-1 flex items-center">
      <span class="w-[62px] text-[12.5px]" :class="d.date === today ? 'font-bold' : 'font-medium'">{{ days[i] }} {{ Number(d.date.slice(8)) }}</span>
      <div class="relative h-6 flex-1">
        <div v-for="m in d.marks" :key="m.start" class="absolute inset-y-0 border-r border-paper/70 last:border-r-0" :class="modeClass(m.mode)" :style="{ left: left(m.start), width: left(m.end - m.start) }" :title="`${clock(m.start)}–${clock(m.end)} ${m.mode}`" />
        <div v-if="d.date === today" class="absolute -inset-y-1 w-[2px] bg-wine" :style="{ left: left(minute) }" title="now"><span class="absolute -top-1 -left-[3px] size-2 rounded-full bg-wine" /></div>
      </div>
    </div>
  </div>
</template>
