<script setup lang="ts">
import { useSite } from '../../core/site'
import TabLinks from '../../ui/TabLinks.vue'

const site = useSite()
</script>

<template>
  <TabLinks
    label="Rules"
    :tabs="[
      { path: '/rules', name: 'All rules' },
      { path: '/rules/emergencies', name: 'Lockdown and fire' },
      { path: '/rules/areas', name: 'Areas' },
      { path: '/rules/screening', name: 'Screening' },
      { path: '/rules/alarm-areas', name: 'Alarm areas' },
      { path: '/rules/reactions', name: 'Reactions' },
      { path: '/rules/hand', name: 'By hand' },
      { path: '/rules/keypads', name: 'Keypads' },
      { path: '/rules/findings', name: 'Findings', count: site.overview?.rules },
    ]"
  />
</template>
