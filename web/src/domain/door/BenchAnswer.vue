<script setup lang="ts">
import { RouterLink } from 'vue-router'
import TraceList from '../../ui/TraceList.vue'
import { benchSaid as latest } from './bench'
</script>

<template>
  <template v-if="latest">
    <div
      class="rounded-lg p-3.5"
      :class="
        latest.outcome === 'granted'
          ? 'bg-kelp text-paper'
          : latest.outcome === 'refused' || latest.outcome === 'alarm'
            ? 'bg-wine text-paper'
            : 'border border-seam bg-paper'
      "
      role="status"
    >
      <p class="text-[16px] font-bold">{{ latest.headline }}</p>
      <p>{{ latest.person }}<template v-if="latest.person && latest.detail">, </template>{{ latest.detail }}</p>
    </div>
    <template v-if="latest.trace.length"
      ><h2>Why</h2>
      <TraceList :lines="latest.trace"
    /></template>
    <RouterLink v-if="latest.bits" class="btn" :to="`/build/formats?bits=${latest.bits}`">Open its bits</RouterLink>
    <template v-if="latest.mend"
      ><h2>What would change it</h2>
      <p class="card p-3 text-[13px] leading-relaxed">{{ latest.mend }}</p></template
    >
  </template>
  <p v-else class="card p-3 text-[13px] leading-relaxed text-ash">
    Choose a card and press Enter, or touch the reader in the drawing. What was decided, and why, stands here.
  </p>
</template>
