<script setup lang="ts">
defineProps<{ dirty: boolean; busy: boolean; problem: string; saveLabel?: string }>()
defineEmits<{ save: []; discard: [] }>()
</script>

<template>
  <p v-if="problem" role="alert" class="rounded-md border border-wine bg-paper p-2.5 text-[13px] font-semibold text-wine">{{ problem }}</p>
  <div v-if="dirty" class="flex gap-2">
    <button class="btn btn-amber" :disabled="busy" title="Ctrl S" @click="$emit('save')">{{ saveLabel ?? 'Save' }}</button>
    <button class="btn" :disabled="busy" @click="$emit('discard')">Discard</button>
  </div>
</template>
