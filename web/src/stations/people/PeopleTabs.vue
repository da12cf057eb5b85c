<script setup lang="ts">
import { RouterLink, useRoute } from 'vue-router'

const route = useRoute()
const tabs = [
  { path: '/people', name: 'People' },
  { path: '/people/levels', name: 'Access levels' },
]
</script>

<template>
  <nav aria-label="People" class="mb-3 flex gap-4 border-b border-seam">
    <RouterLink
      v-for="t in tabs"
      :key="t.path"
      :to="t.path"
      class="-mb-px min-h-[24px] border-b-2 px-0.5 pb-1.5 font-semibold"
      :class="route.path === t.path ? 'border-amber text-ink' : 'border-transparent text-ash hover:text-ink'"
      :aria-current="route.path === t.path ? 'page' : undefined"
      >{{ t.name }}</RouterLink
    >
  </nav>
</template>
