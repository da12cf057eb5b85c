<script setup lang="ts">
import TabLinks from '../../ui/TabLinks.vue'
</script>

<template>
  <TabLinks
    label="Send"
    :tabs="[
      { path: '/send', name: 'What differs' },
      { path: '/send/sent', name: 'What was sent' },
    ]"
  />
</template>
