<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Line } from './painter'
import type { Row } from './week'

/** Copy and clear for the row that the cursor is in. */
const props = defineProps<{ lines: Line[]; at: number }>()
const emit = defineEmits<{ copy: [from: Row, to: Row[]]; clear: [row: Row] }>()
const here = computed(() => props.lines[props.at] ?? props.lines[0]!)
const groups = computed(() => [
  { name: 'Mon to Fri', rows: props.lines.slice(0, 5).map((l) => l.row) },
  { name: 'Sat and Sun', rows: props.lines.slice(5, 7).map((l) => l.row) },
  { name: 'every weekday', rows: props.lines.slice(0, 7).map((l) => l.row) },
  ...props.lines.filter((l) => l !== here.value).map((l) => ({ name: l.label, rows: [l.row] })),
])
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="btn">Copy {{ here.label }} to …</PopoverButton>
    <PopoverPanel
      v-slot="{ close }"
      class="absolute right-0 z-20 mt-1 w-52 rounded-lg border border-seam bg-paper py-1 shadow-lg"
    >
      <button
        v-for="g in groups"
        :key="g.name"
        class="block w-full px-3 py-1 text-left hover:bg-mode-card/60"
        @click="() => (emit('copy', here.row, g.rows), close())"
      >
        {{ g.name }}
      </button>
    </PopoverPanel>
  </Popover>
  <button class="btn" @click="emit('clear', here.row)">Clear {{ here.label }}</button>
</template>
