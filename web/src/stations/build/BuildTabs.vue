<script setup lang="ts">
import { useSite } from '../../core/site'
import TabLinks from '../../ui/TabLinks.vue'

const site = useSite()
</script>

<template>
  <TabLinks
    label="Build"
    :tabs="[
      { path: '/build', name: 'Controllers' },
      { path: '/build/doors', name: 'Doors' },
      { path: '/build/terminals', name: 'Terminals' },
      { path: '/build/formats', name: 'Card formats' },
      { path: '/build/power', name: 'Power' },
      { path: '/build/schedule', name: 'Hardware schedule' },
      { path: '/build/findings', name: 'Findings', count: site.overview?.build },
    ]"
  />
</template>
