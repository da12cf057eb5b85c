<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { modeName, timeOf } from '../../words'

/** What the controller said lately, the newest first; one is chosen to be seen in full. */
defineProps<{ bench: Schemas['Bench']; latest?: number; zone: string }>()
const chosen = defineModel<number>('chosen')
const most = 12
</script>

<template>
  <section class="card max-h-[560px] overflow-auto" aria-label="What the controller said">
    <div class="card-head">
      <h2>What the controller said</h2>
      <span class="note">{{ modeName(bench.mode) }} now{{ bench.waits ? ', waits for its first card' : '' }}</span>
    </div>
    <button
      v-for="s in bench.said.slice(0, most)"
      :key="s.seq"
      class="row w-full items-start py-1.5 text-left text-[13px] hover:bg-lime"
      :class="latest === s.seq ? 'bg-mode-card/40' : ''"
      @click="chosen = s.seq"
    >
      <span class="shrink-0 font-mono text-[12px]">{{ timeOf(s.at, zone) }}</span>
      <span class="min-w-0"
        ><b>{{ s.headline }}</b
        >{{ s.person && ` ${s.person}`
        }}<span v-if="s.detail" class="note block text-[12px]">{{ s.detail }}</span></span
      >
    </button>
  </section>
</template>
