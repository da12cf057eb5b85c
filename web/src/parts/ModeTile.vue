<script setup lang="ts">
import { modeClass } from '../words'

defineProps<{ mode: string; alarm?: string; dim?: boolean }>()
</script>

<template>
  <span class="inline-block h-[15px] w-[13px] shrink-0 rounded-[2px] border border-ink/60" :class="[modeClass(mode), dim ? 'opacity-60' : '']" :title="mode + (dim ? ', by its plan; the controller does not answer' : '')" role="img" :aria-label="mode" />
</template>
