<script setup lang="ts">
import { computed } from 'vue'

/** A reader in the drawing of a door, and what it shows. */
const props = defineProps<{
  name: string
  x: number
  keypad: boolean
  show?: string
  plugged: boolean
}>()
const colour = computed(() => {
  if (props.show === 'granted') return 'var(--color-dot)'
  if (props.show === 'refused' || props.show === 'keypad locked') return 'var(--color-wine)'
  return props.show ? 'var(--color-amber)' : 'var(--color-ash)'
})
</script>

<template>
  <g>
    <text :x="x" y="98" font-size="10.5" font-weight="600" text-anchor="middle" fill="var(--color-ink)">{{
      name
    }}</text>
    <rect :x="x - 14" y="106" width="28" height="46" rx="4" fill="var(--color-basalt)" :opacity="plugged ? 1 : 0.35" />
    <path :d="`M${x - 7} 121 q7 -8 14 0 M${x - 4} 125 q4 -4.5 8 0`" fill="none" :stroke="colour" stroke-width="2" />
    <template v-if="keypad">
      <circle
        v-for="i in 9"
        :key="i"
        :cx="x - 6 + ((i - 1) % 3) * 6"
        :cy="133 + Math.floor((i - 1) / 3) * 6"
        r="1.5"
        fill="var(--color-seam)"
      />
    </template>
    <rect
      :x="x - 14"
      y="106"
      width="28"
      height="46"
      rx="4"
      fill="none"
      :stroke="show ? colour : 'transparent'"
      stroke-width="3"
    />
    <text
      :x="x"
      y="166"
      font-size="10.5"
      text-anchor="middle"
      :font-weight="show || !plugged ? 700 : 400"
      :fill="show ? 'var(--color-ink)' : 'var(--color-ash)'"
    >
      {{ !plugged ? 'unplugged' : show || (keypad ? 'card + keypad' : 'card') }}
    </text>
  </g>
</template>
