<script setup lang="ts">
import { modeClass, modeName } from '../words'

defineProps<{ modes: string[] }>()
</script>

<template>
  <span class="flex flex-wrap justify-end gap-x-3.5 gap-y-1 text-[12.5px] font-normal text-ash">
    <span v-for="m in modes" :key="m" class="flex items-center gap-1.5"><span class="h-2.5 w-4 border border-ash/40" :class="modeClass(m)" />{{ modeName(m) }}</span>
  </span>
</template>
