<script setup lang="ts">
import TabLinks from '../../ui/TabLinks.vue'
</script>

<template>
  <TabLinks
    label="Build"
    :tabs="[
      { path: '/build', name: 'Controllers' },
      { path: '/build/doors', name: 'Doors' },
    ]"
  />
</template>
