<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ text: string }>()
const parts = computed(() => props.text.split('**'))
</script>

<template>
  <template v-for="(p, i) in parts" :key="i"
    ><b v-if="i % 2">{{ p }}</b
    ><template v-else>{{ p }}</template></template
  >
</template>
