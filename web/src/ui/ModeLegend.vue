<script setup lang="ts">
import { modeClass, modeName } from '../words'

defineProps<{ modes: string[]; first?: boolean; change?: boolean }>()
</script>

<template>
  <span class="flex flex-wrap justify-end gap-x-3 gap-y-1 text-[12px] font-normal text-ash">
    <span v-for="m in modes" :key="m" class="flex items-center gap-1.5"
      ><span class="h-2.5 w-4 border border-ash/40" :class="modeClass(m)" />{{ modeName(m) }}</span
    >
    <span v-if="first" class="flex items-center gap-1.5"
      ><span class="h-3 w-2 bg-kelp [clip-path:polygon(0_0,100%_50%,0_100%)]" />First card</span
    >
    <span v-if="change" class="flex items-center gap-1.5"
      ><span class="h-2.5 w-4 border-2 border-dashed border-violet" />Dated change</span
    >
  </span>
</template>
