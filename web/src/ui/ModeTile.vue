<script setup lang="ts">
import { modeClass } from '../words'

defineProps<{ mode: string; alarm?: string; dim?: boolean; waits?: boolean }>()
</script>

<template>
  <span
    class="relative inline-block h-[15px] w-[13px] shrink-0 rounded-[2px] border border-ink/60"
    :class="[modeClass(mode), dim ? 'opacity-60' : '']"
    :title="
      mode + (waits ? ', waits for its first card' : '') + (dim ? ', by its plan; the controller does not answer' : '')
    "
    role="img"
    :aria-label="waits ? `${mode}, waits for a first card` : mode"
    ><span v-if="waits" class="absolute inset-y-0 left-0 w-[5px] bg-kelp [clip-path:polygon(0_0,100%_50%,0_100%)]"
  /></span>
</template>
