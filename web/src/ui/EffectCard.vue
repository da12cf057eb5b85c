<script setup lang="ts">
import type { Schemas } from '../api/client'
import { inClock } from '../clock'
import { many } from '../words'

/** What an edit does, before it is saved. */
defineProps<{ effect?: Schemas['EditEffect']; none: string }>()
</script>

<template>
  <div v-if="effect" class="card p-3 text-[13px] leading-relaxed" role="status" aria-label="What this edit does">
    <p
      v-for="l in effect.lines"
      :key="l.words"
      class="font-bold"
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
    <p v-if="effect.lose">
      <b class="text-wine">{{ many(effect.lose, 'person', 'people') }}</b> may come in at fewer hours<span class="note"
        >: {{ effect.losers.join(', ') }}{{ effect.lose > effect.losers.length ? ' …' : '' }}</span
      >
    </p>
    <p v-else-if="effect.first"><b class="text-kelp">nobody</b> may come in at fewer hours</p>
    <p v-if="effect.gain">
      <b class="text-kelp">{{ many(effect.gain, 'person', 'people') }}</b> may come in at more hours
    </p>
    <p v-if="effect.first" class="note mt-1">
      First differs {{ inClock(effect.first)
      }}<template v-if="effect.days > 1">, on {{ effect.days }} days in the next 13 months</template>; once sent.
    </p>
    <p v-else class="note mt-1">Nothing differs in the next 13 months, at any door or for anybody.</p>
  </div>
  <p v-else class="note">{{ none }}</p>
</template>
