<script setup lang="ts">
import TabLinks from '../../ui/TabLinks.vue'
</script>

<template>
  <TabLinks
    label="Prove"
    :tabs="[
      { path: '/prove', name: 'Questions' },
      { path: '/prove/matrix', name: 'Who can go where' },
      { path: '/prove/rights', name: 'Rights, as a list' },
    ]"
  />
</template>
