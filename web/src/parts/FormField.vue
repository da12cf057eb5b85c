<script setup lang="ts">
import { useId } from 'vue'

defineProps<{ label: string; problem?: string; unit?: string }>()
const id = useId()
</script>

<template>
  <div>
    <label class="label mb-0.5" :for="id">{{ label }}<span v-if="unit" class="font-normal"> · {{ unit }}</span></label>
    <slot :id="id" :invalid="!!problem" />
    <p v-if="problem" class="mt-0.5 text-[12px] font-semibold text-wine">{{ problem }}</p>
  </div>
</template>
