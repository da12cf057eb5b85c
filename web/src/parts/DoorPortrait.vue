<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { lockNames } from '../words'

type State = { released: boolean; open: boolean; alarm?: string; shows?: string[]; readers?: boolean[] }
const props = defineProps<{ door: Schemas['Door']; state: State; playable?: boolean }>()
const emit = defineEmits<{ present: [out: boolean]; leaf: []; exit: [] }>()

const wide = computed(() => ['shutter', 'barrier', 'turnstile'].includes(props.door.lock))
const colour = (show?: string) => (show === 'granted' ? 'var(--color-dot)' : show === 'refused' || show === 'keypad locked' ? 'var(--color-wine)' : show ? 'var(--color-amber)' : 'var(--color-ash)')
const short = (s: string, n: number) => (s.length > n ? s.slice(0, n - 1) + '…' : s)
const readers = computed(() => [
  { out: false, fitted: props.door.in.fitted, keypad: props.door.in.keypad, x: 68, show: props.state.shows?.[0], plugged: props.state.readers?.[0] ?? true, name: 'Reader in' },
  { out: true, fitted: props.door.out.fitted, keypad: props.door.out.keypad, x: 268, show: props.state.shows?.[1], plugged: props.state.readers?.[1] ?? true, name: 'Reader out' },
])
function hit(what: () => void) {
  if (props.playable) what()
}
</script>

<template>
  <svg viewBox="0 0 336 262" class="block w-full" role="img" :aria-label="`${door.name}: ${state.open ? 'open' : 'closed'}, ${state.released ? 'released' : 'locked'}`">
    <rect width="168" height="262" fill="var(--color-plaster)" />
    <rect x="168" width="168" height="262" fill="var(--color-mode-free)" opacity=".45" />
    <g font-size="11" font-weight="600" fill="var(--color-ink)">
      <text x="12" y="20">{{ short(door.outside || 'Outside', 24) }}</text>
      <text x="324" y="20" text-anchor="end">{{ short(door.inside || 'Inside', 22) }}</text>
    </g>

    <!-- frame -->
    <rect x="112" y="40" width="112" height="184" fill="var(--color-ink)" />
    <rect x="117" y="45" width="102" height="179" :fill="state.open ? 'var(--color-basalt-2)' : 'var(--color-plaster)'" />
    <!-- leaf -->
    <g :role="playable ? 'button' : undefined" :tabindex="playable ? 0 : undefined" :aria-label="playable ? (state.open ? 'Close the door' : 'Open the door') : undefined" :class="playable ? 'cursor-pointer' : ''" @click="hit(() => emit('leaf'))" @keydown.enter.stop="hit(() => emit('leaf'))">
      <template v-if="door.lock === 'shutter'">
        <rect x="119" y="47" width="98" :height="state.open ? 30 : 176" fill="var(--color-seam)" stroke="var(--color-ash)" />
        <line v-for="i in state.open ? 2 : 14" :key="i" x1="120" x2="216" :y1="47 + i * 12" :y2="47 + i * 12" stroke="var(--color-ash)" stroke-width="1" />
      </template>
      <template v-else-if="state.open">
        <polygon points="119,47 164,64 164,240 119,223" fill="var(--color-mode-card)" stroke="var(--color-copper)" stroke-width="1.5" />
        <polygon points="127,66 157,77 157,128 127,120" fill="var(--color-mode-free)" stroke="var(--color-copper)" stroke-width=".8" />
        <circle cx="158" cy="151" r="3.4" fill="var(--color-ink)" />
      </template>
      <template v-else>
        <rect x="121" y="49" width="94" height="174" fill="var(--color-mode-card)" opacity=".75" stroke="var(--color-copper)" stroke-width="1.5" />
        <rect v-if="!wide" x="136" y="63" width="64" height="58" fill="var(--color-mode-free)" stroke="var(--color-copper)" stroke-width="1" />
        <circle cx="201" cy="152" r="4.5" fill="var(--color-ink)" />
      </template>
    </g>
    <!-- lock -->
    <g v-if="door.lock === 'magnetic'">
      <rect x="186" y="41" width="30" height="9" :fill="state.released ? 'var(--color-dot)' : 'var(--color-amber)'" stroke="var(--color-ink)" />
    </g>
    <g v-else>
      <rect x="212" y="139" width="14" height="26" rx="2" fill="var(--color-paper)" stroke="var(--color-ink)" stroke-width="1.5" />
      <rect :x="state.released ? 218 : 208" y="149" :width="state.released ? 6 : 13" height="6" :fill="state.released ? 'var(--color-dot)' : 'var(--color-ink)'" />
    </g>
    <text x="234" y="196" font-size="10.5" font-weight="600" fill="var(--color-ink)">{{ lockNames[door.lock] }}</text>
    <text x="234" y="209" font-size="10.5" fill="var(--color-ash)">{{ door.failSafe ? 'fail-safe' : 'fail-secure' }}</text>
    <text x="234" y="222" font-size="10.5" :fill="state.released ? 'var(--color-kelp)' : 'var(--color-ash)'" :font-weight="state.released ? 700 : 400">{{ state.released ? 'released' : 'locked' }}</text>
    <!-- contact -->
    <template v-if="door.contact !== 'none'">
      <rect x="150" y="36" width="22" height="8" :fill="state.open ? 'var(--color-paper)' : 'var(--color-amber)'" stroke="var(--color-ink)" />
      <polyline points="161,36 161,30 182,30" fill="none" stroke="var(--color-ash)" />
      <text x="186" y="33" font-size="10.5" font-weight="600" fill="var(--color-ink)">Contact · {{ state.open ? 'open' : 'closed' }}</text>
    </template>
    <text v-else x="186" y="33" font-size="10.5" fill="var(--color-ash)">No contact</text>
    <!-- readers -->
    <template v-for="r in readers" :key="r.name">
      <g v-if="r.fitted" :role="playable ? 'button' : undefined" :tabindex="playable ? 0 : undefined" :aria-label="playable ? `Present the card at the ${r.name.toLowerCase()}` : undefined" :class="playable ? 'cursor-pointer' : ''" @click="hit(() => emit('present', r.out))" @keydown.enter.stop="hit(() => emit('present', r.out))">
        <text :x="r.x" y="98" font-size="10.5" font-weight="600" text-anchor="middle" fill="var(--color-ink)">{{ r.name }}</text>
        <rect :x="r.x - 14" y="106" width="28" height="46" rx="4" fill="var(--color-basalt)" :opacity="r.plugged ? 1 : 0.35" />
        <path :d="`M${r.x - 7} 121 q7 -8 14 0 M${r.x - 4} 125 q4 -4.5 8 0`" fill="none" :stroke="colour(r.show)" stroke-width="2" />
        <template v-if="r.keypad">
          <circle v-for="i in 9" :key="i" :cx="r.x - 6 + ((i - 1) % 3) * 6" :cy="133 + Math.floor((i - 1) / 3) * 6" r="1.5" fill="var(--color-seam)" />
        </template>
        <rect :x="r.x - 14" y="106" width="28" height="46" rx="4" fill="none" :stroke="r.show ? colour(r.show) : 'transparent'" stroke-width="3" />
        <text :x="r.x" y="166" font-size="10.5" text-anchor="middle" :font-weight="r.show || !r.plugged ? 700 : 400" :fill="r.show ? 'var(--color-ink)' : 'var(--color-ash)'">{{ !r.plugged ? 'unplugged' : r.show || (r.keypad ? 'card + keypad' : 'card') }}</text>
      </g>
    </template>
    <!-- exit request -->
    <g v-if="door.exit !== 'none'" :role="playable ? 'button' : undefined" :tabindex="playable ? 0 : undefined" :aria-label="playable ? 'Press the exit button' : undefined" :class="playable ? 'cursor-pointer' : ''" @click="hit(() => emit('exit'))" @keydown.enter.stop="hit(() => emit('exit'))">
      <text :x="door.out.fitted ? 312 : 284" y="74" font-size="10.5" font-weight="600" text-anchor="middle" fill="var(--color-ink)">Exit</text>
      <circle :cx="door.out.fitted ? 312 : 284" cy="92" r="13" fill="var(--color-paper)" stroke="var(--color-ink)" stroke-width="2" />
      <path :d="`M${(door.out.fitted ? 312 : 284) + 6} 92 h-12 m5 -5 l-5 5 l5 5`" fill="none" stroke="var(--color-ink)" stroke-width="2" />
    </g>
    <line x1="0" x2="336" y1="240" y2="240" stroke="var(--color-ash)" stroke-width="1.5" />
    <g fill="var(--color-kelp)"><rect x="14" y="250" width="66" height="2.4" /><polygon points="78,246.5 90,251.2 78,256" /></g>
    <text x="96" y="255" font-size="10.5" fill="var(--color-ash)">way in</text>
    <g v-if="state.alarm">
      <rect x="196" y="243.5" width="132" height="16" rx="3" fill="var(--color-wine)" />
      <text x="262" y="255" text-anchor="middle" font-size="10.5" font-weight="700" fill="var(--color-paper)">{{ { forced: 'door forced', 'held-open': 'door held open', 'held-warning': 'held open soon' }[state.alarm] ?? state.alarm }}</text>
    </g>
  </svg>
</template>
