<script setup lang="ts">
import SheetFrame from '../ui/SheetFrame.vue'
</script>

<template>
  <SheetFrame title="There is nothing at this address"
    ><p>Choose a station above, or press Ctrl K and type a name.</p></SheetFrame
  >
</template>
