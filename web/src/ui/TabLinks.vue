<script setup lang="ts">
import { RouterLink, useRoute } from 'vue-router'

/** The views of a station, side by side. */
defineProps<{ label: string; tabs: { path: string; name: string; count?: number }[] }>()
const route = useRoute()
</script>

<template>
  <nav :aria-label="label" class="mb-3 flex flex-wrap gap-x-3.5 border-b border-seam">
    <RouterLink
      v-for="t in tabs"
      :key="t.path"
      :to="t.path"
      class="-mb-px min-h-[24px] border-b-2 whitespace-nowrap px-0.5 pb-1.5 font-semibold"
      :class="route.path === t.path ? 'border-amber text-ink' : 'border-transparent text-ash hover:text-ink'"
      :aria-current="route.path === t.path ? 'page' : undefined"
      >{{ t.name
      }}<span v-if="t.count" class="pill ml-1.5 border border-wine text-wine">{{ t.count }}</span></RouterLink
    >
  </nav>
</template>
