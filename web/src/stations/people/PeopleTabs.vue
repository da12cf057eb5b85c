<script setup lang="ts">
import { useSite } from '../../core/site'
import TabLinks from '../../ui/TabLinks.vue'

const site = useSite()
</script>

<template>
  <TabLinks
    label="People"
    :tabs="[
      { path: '/people', name: 'People' },
      { path: '/people/departments', name: 'Departments' },
      { path: '/people/levels', name: 'Access levels' },
      { path: '/people/cards', name: 'Free cards' },
      { path: '/people/coming', name: 'Begins and ends' },
      { path: '/people/import', name: 'Import and export' },
      { path: '/people/findings', name: 'Findings', count: site.overview?.people },
    ]"
  />
</template>
