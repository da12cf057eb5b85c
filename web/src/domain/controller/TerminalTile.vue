<script setup lang="ts">
import { roleWords, type Terminal } from './terminals'

/** One terminal: its label, what it is for, and what it says. Dragged to another it moves there. */
defineProps<{ terminal: Terminal; chosen: boolean; takes: boolean }>()
defineEmits<{ choose: []; drop: []; drag: []; end: [] }>()
</script>

<template>
  <button
    type="button"
    class="flex h-16 w-full flex-col rounded-md border px-2 py-1 text-left leading-tight"
    :class="[
      !terminal.use && terminal.kind !== 'power' ? 'border-dashed' : '',
      terminal.state === 'fault'
        ? 'border-wine bg-wine/8'
        : terminal.state === 'active'
          ? 'border-kelp bg-mode-free'
          : 'bg-paper',
      terminal.state === 'fault' || terminal.state === 'active' ? '' : 'border-edge',
      chosen ? 'ring-2 ring-ink' : '',
      takes ? 'outline-2 outline-dashed outline-kelp' : '',
    ]"
    :aria-pressed="chosen"
    :draggable="!!terminal.use"
    :data-terminal="terminal.at"
    @click="$emit('choose')"
    @dragstart="$emit('drag')"
    @dragend="$emit('end')"
    @dragover="takes && $event.preventDefault()"
    @drop.prevent="$emit('drop')"
  >
    <span class="flex w-full justify-between gap-1 font-mono text-[11px]"
      ><span class="text-ash">{{ terminal.label }}</span
      ><b
        class="truncate"
        :class="
          terminal.state === 'fault' ? 'text-wine' : terminal.state === 'active' ? 'text-kelp' : 'font-normal text-ash'
        "
        >{{ terminal.words }}</b
      ></span
    >
    <b
      class="w-full truncate text-[13px]"
      :class="terminal.use || terminal.kind === 'power' ? '' : 'font-normal text-ash'"
      >{{ terminal.kind === 'power' ? (terminal.measures ?? '') : roleWords(terminal) }}</b
    >
    <span class="w-full truncate text-[12px] text-ash" :title="terminal.use?.name">{{ terminal.use?.name }}</span>
  </button>
</template>
