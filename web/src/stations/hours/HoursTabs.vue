<script setup lang="ts">
import { useSite } from '../../core/site'
import TabLinks from '../../ui/TabLinks.vue'

const site = useSite()
</script>

<template>
  <TabLinks
    label="Hours"
    :tabs="[
      { path: '/hours', name: 'Plans and schedules' },
      { path: '/hours/holidays', name: 'Holidays' },
      { path: '/hours/changes', name: 'Dated changes' },
      { path: '/hours/findings', name: 'Findings', count: site.overview!.findings },
    ]"
  />
</template>
