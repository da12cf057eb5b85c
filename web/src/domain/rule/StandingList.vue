<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useClearing } from './clearing'

/** How somebody stands with what screens them, each with the one button that changes it. */
defineProps<{ person: number; name: string; list: Schemas['Standing'][]; main?: boolean }>()
const { clear, busy, problem } = useClearing()
</script>

<template>
  <div v-for="s in list" :key="s.id" class="row flex-wrap gap-x-3 gap-y-1 text-[13.5px]">
    <span class="min-w-0 flex-1"
      ><RouterLink class="underline" :to="`/rules/screening/${s.id}`">{{ s.name }}</RouterLink>
      <span class="block" :class="s.cleared ? 'font-semibold text-kelp' : 'font-semibold text-wine'">{{
        inClock(s.words)
      }}</span>
      <span v-if="!s.cleared" class="note block text-[12.5px]">{{
        s.logOnly
          ? 'comes in all the same; it is noted'
          : s.only
            ? `only the level ${s.only} counts until then`
            : 'nothing opens until then'
      }}</span></span
    >
    <button
      v-if="s.cleared"
      type="button"
      class="btn px-2.5 py-1"
      :disabled="busy"
      :aria-label="`Withdraw ${s.name}: ${name}`"
      @click="clear(s.id, person, true)"
    >
      Withdraw</button
    ><button
      v-else
      type="button"
      data-clears
      class="btn px-2.5 py-1"
      :class="main ? 'btn-amber text-[15px]' : ''"
      :disabled="busy"
      :aria-label="`Clear ${inClock(s.would)}: ${name}, ${s.name}`"
      @click="clear(s.id, person)"
    >
      Clear {{ inClock(s.would) }}
    </button>
  </div>
  <p v-if="problem" role="alert" class="px-3.5 py-2 font-semibold text-wine">{{ problem }}</p>
</template>
