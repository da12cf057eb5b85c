<script setup lang="ts">
import { onScopeDispose, ref } from 'vue'
import { listen } from '../core/live'

/** Says a new alarm to those who do not see the count change. */
const said = ref('')
onScopeDispose(
  listen((n) => {
    if (n.type === 'event' && n.event.alarm)
      said.value = `Alarm: ${n.event.headline}, ${n.event.door || n.event.controller}`
  }),
)
</script>

<template>
  <p class="sr-only" role="alert">{{ said }}</p>
</template>
