<script setup lang="ts">
import type { Schemas } from '../api/client'
import { inClock } from '../clock'

defineProps<{ lines: Schemas['Line'][] }>()
</script>

<template>
  <ol class="card text-[13px]">
    <li
      v-for="(l, i) in lines"
      :key="i"
      class="flex gap-2.5 border-t border-seam px-3 py-1.5 first:border-t-0"
      :class="l.ok ? '' : 'bg-wine/8'"
    >
      <span
        class="mt-1.5 size-2 shrink-0 rounded-full"
        :class="l.ok ? 'bg-kelp' : 'border-2 border-wine'"
        :aria-label="l.ok ? 'passed' : 'failed'"
        role="img"
      />
      <span class="w-[72px] shrink-0 text-ash">{{ l.check }}</span>
      <span :class="l.ok ? '' : 'font-bold'">{{ inClock(l.words) }}</span>
    </li>
  </ol>
</template>
