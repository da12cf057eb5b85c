<script setup lang="ts">
import { RouterLink, useRoute } from 'vue-router'
import { useSite } from '../../core/site'

const site = useSite()
const route = useRoute()
const tabs = [
  { path: '/hours', name: 'Plans and schedules' },
  { path: '/hours/holidays', name: 'Holidays' },
  { path: '/hours/changes', name: 'Dated changes' },
  { path: '/hours/findings', name: 'Findings' },
]
</script>

<template>
  <nav aria-label="Hours" class="mb-3 flex gap-4 border-b border-seam">
    <RouterLink
      v-for="t in tabs"
      :key="t.path"
      :to="t.path"
      class="-mb-px border-b-2 px-0.5 pb-1.5 font-semibold"
      :class="route.path === t.path ? 'border-amber text-ink' : 'border-transparent text-ash hover:text-ink'"
      :aria-current="route.path === t.path ? 'page' : undefined"
      >{{ t.name
      }}<span
        v-if="t.name === 'Findings' && site.overview!.findings"
        class="pill ml-1.5 border border-wine text-wine"
        >{{ site.overview!.findings }}</span
      ></RouterLink
    >
  </nav>
</template>
