<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'

/** The frame of a door and its leaf. */
const props = defineProps<{ door: Schemas['Door']; open: boolean }>()
const wide = computed(() => ['shutter', 'barrier', 'turnstile'].includes(props.door.lock))
</script>

<template>
  <rect x="112" y="40" width="112" height="184" fill="var(--color-ink)" />
  <rect x="117" y="45" width="102" height="179" :fill="open ? 'var(--color-basalt-2)' : 'var(--color-plaster)'" />
  <g>
    emit('leaf'))" >
    <template v-if="door.lock === 'shutter'">
      <rect x="119" y="47" width="98" :height="open ? 30 : 176" fill="var(--color-seam)" stroke="var(--color-ash)" />
      <line
        v-for="i in open ? 2 : 14"
        :key="i"
        x1="120"
        x2="216"
        :y1="47 + i * 12"
        :y2="47 + i * 12"
        stroke="var(--color-ash)"
        stroke-width="1"
      />
    </template>
    <template v-else-if="open">
      <polygon
        points="119,47 164,64 164,240 119,223"
        fill="var(--color-mode-card)"
        stroke="var(--color-copper)"
        stroke-width="1.5"
      />
      <polygon
        points="127,66 157,77 157,128 127,120"
        fill="var(--color-mode-free)"
        stroke="var(--color-copper)"
        stroke-width=".8"
      />
      <circle cx="158" cy="151" r="3.4" fill="var(--color-ink)" />
    </template>
    <template v-else>
      <rect
        x="121"
        y="49"
        width="94"
        height="174"
        fill="var(--color-mode-card)"
        opacity=".75"
        stroke="var(--color-copper)"
        stroke-width="1.5"
      />
      <rect
        v-if="!wide"
        x="136"
        y="63"
        width="64"
        height="58"
        fill="var(--color-mode-free)"
        stroke="var(--color-copper)"
        stroke-width="1"
      />
      <circle cx="201" cy="152" r="4.5" fill="var(--color-ink)" />
    </template>
  </g>
</template>
