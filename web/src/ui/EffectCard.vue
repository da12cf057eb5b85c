<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { inClock } from '../clock'
import { many } from '../words'
import TouchedList from './TouchedList.vue'

/** What an edit does, before it is saved: a sentence, opened to names, doors and hours. */
const props = defineProps<{ effect?: Schemas['EditEffect']; none: string }>()
const open = ref(false)
/** The names in the sentence that lose stand out; what follows the colon is who. */
const told = computed(() => inClock(props.effect?.sentence ?? ''))
</script>

<template>
  <div v-if="effect" class="card p-3 text-[13px] leading-relaxed" role="status" aria-label="What this edit does">
    <p class="text-[14px]" :class="effect.lose ? 'text-wine' : effect.gain ? 'text-kelp' : ''">
      <b>{{ told }}</b>
    </p>
    <p
      v-for="l in effect.lines"
      :key="l.words"
      class="mt-1"
      :class="l.sign > 0 ? 'text-kelp' : l.sign < 0 ? 'text-wine' : ''"
    >
      {{ inClock(l.words) }}
    </p>
    <p v-if="effect.count" class="mt-1">
      {{ many(effect.count, 'door', 'doors') }} {{ effect.count === 1 ? 'asks' : 'ask' }} something else<span
        class="note"
        >{{
          effect.doors.length
            ? ': ' +
              effect.doors
                .slice(0, 8)
                .map((d) => d.name)
                .join(', ') +
              (effect.count > 8 ? ' …' : '')
            : ''
        }}</span
      >
    </p>
    <template v-if="effect.touched.length">
      <button
        class="btn mt-2 px-2 py-0.5 text-left whitespace-normal"
        type="button"
        :aria-expanded="open"
        @click="open = !open"
      >
        {{ open ? 'Fold up' : `Open: ${many(effect.people, 'person', 'people')}, doors and hours` }}
      </button>
      <TouchedList v-if="open" class="mt-2" :touched="effect.touched" :people="effect.people" />
    </template>
    <p v-if="effect.first" class="note mt-1">
      First differs {{ inClock(effect.first)
      }}<template v-if="effect.days > 1">, on {{ effect.days }} days in the next 13 months</template>; once sent.
    </p>
  </div>
  <p v-else class="note">{{ none }}</p>
</template>
