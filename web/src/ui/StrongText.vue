<script setup lang="ts">
import { computed } from 'vue'
import { inClock } from '../clock'

const props = defineProps<{ text: string }>()
const parts = computed(() => inClock(props.text).split('**'))
</script>

<template>
  <template v-for="(p, i) in parts" :key="i"
    ><b v-if="i % 2">{{ p }}</b
    ><template v-else>{{ p }}</template></template
  >
</template>
