<script setup lang="ts">
/** The keys of the reader on the way in. */
defineProps<{ fitted: boolean }>()
defineEmits<{ pressed: [key: string] }>()
const keys = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0', '*', '#']
</script>

<template>
  <div class="flex flex-wrap items-center gap-1 border-t border-seam p-2.5">
    <span class="label mr-1">PIN</span>
    <button
      v-for="k in keys"
      :key="k"
      class="btn size-7 p-0 font-mono"
      :disabled="!fitted"
      :aria-label="`Key ${k}`"
      @click="$emit('pressed', k)"
    >
      {{ k }}
    </button>
    <span v-if="!fitted" class="note">this reader has no keypad</span
    ><span v-else class="note">ends with #, or by itself at the length of the longest PIN</span>
  </div>
</template>
