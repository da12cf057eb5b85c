<script setup lang="ts">
/** The name of a row; for a holiday type, what is done then. */
const answer = defineModel<string>({ default: '' })
defineProps<{
  name: string
  holiday: boolean
  options: string[]
  byType: string
  tint?: string
  readonly?: boolean
  at: boolean
}>()
</script>

<template>
  <p v-if="!holiday" class="pt-1 text-[13px]" :class="at ? 'font-bold' : 'font-semibold'">{{ name }}</p>
  <div v-else class="leading-tight">
    <p class="flex items-center gap-1.5 truncate text-[12.5px]" :class="at ? 'font-bold' : 'font-semibold'">
      <span class="size-2 shrink-0 rounded-full" :class="tint" />{{ name }}
    </p>
    <select
      v-model="answer"
      class="-ml-1 w-full truncate rounded-sm bg-transparent text-[11px] text-ash"
      :disabled="readonly"
      :aria-label="`On ${name}`"
    >
      <option value="">its type: {{ byType.replace('as ', '') }}</option>
      <option v-for="o in options" :key="o" :value="o">{{ o === 'own' ? 'own hours' : o }}</option>
    </select>
  </div>
</template>
