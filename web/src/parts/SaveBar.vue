<script setup lang="ts">
defineProps<{ dirty: boolean; busy: boolean; problem: string; saveLabel?: string }>()
defineEmits<{ save: []; discard: [] }>()
</script>

<!-- It keeps its place at the foot of the side, however much is said above it, so that nothing moves under the hand. -->
<template>
  <div v-if="dirty || problem" class="sticky bottom-0 z-10 order-last -mx-3.5 mt-auto space-y-2 border-t border-seam bg-lime px-3.5 py-3 max-xl:-mx-2.5 max-xl:px-2.5">
    <p v-if="problem" role="alert" class="rounded-md border border-wine bg-paper p-2.5 text-[13px] font-semibold text-wine">{{ problem }}</p>
    <div v-if="dirty" class="flex gap-2">
      <button class="btn btn-amber flex-1" :disabled="busy" title="Ctrl S" @click="$emit('save')">{{ saveLabel ?? 'Save' }}</button>
      <button class="btn" :disabled="busy" @click="$emit('discard')">Discard</button>
    </div>
  </div>
</template>
