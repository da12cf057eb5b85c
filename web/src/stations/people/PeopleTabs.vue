<script setup lang="ts">
import TabLinks from '../../ui/TabLinks.vue'
</script>

<template>
  <TabLinks
    label="People"
    :tabs="[
      { path: '/people', name: 'People' },
      { path: '/people/levels', name: 'Access levels' },
    ]"
  />
</template>
