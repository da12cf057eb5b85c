<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { lockNames } from '../words'
import PortraitLeaf from './PortraitLeaf.vue'
import PortraitHand from './PortraitHand.vue'
import PortraitReader from './PortraitReader.vue'

type State = { released: boolean; open: boolean; alarm?: string; shows?: string[]; readers?: boolean[]; dark?: boolean }
const props = defineProps<{ door: Schemas['Door']; state: State; playable?: boolean }>()
const emit = defineEmits<{ present: [out: boolean]; leaf: []; exit: [] }>()

const short = (s: string, n: number) => (s.length > n ? s.slice(0, n - 1) + '…' : s)
const readers = computed(() => [
  {
    out: false,
    fitted: props.door.in.fitted,
    keypad: props.door.in.keypad,
    x: 68,
    show: props.state.shows?.[0],
    plugged: props.state.readers?.[0] ?? true,
    name: 'Reader in',
  },
  {
    out: true,
    fitted: props.door.out.fitted,
    keypad: props.door.out.keypad,
    x: 268,
    show: props.state.shows?.[1],
    plugged: props.state.readers?.[1] ?? true,
    name: 'Reader out',
  },
])
</script>

<template>
  <div class="relative">
    <svg
      viewBox="0 0 336 262"
      class="block w-full"
      role="img"
      :aria-label="`${door.name}: ${state.open ? 'open' : 'closed'}, ${state.released ? 'released' : 'locked'}`"
    >
      <rect width="168" height="262" fill="var(--color-plaster)" />
      <rect x="168" width="168" height="262" fill="var(--color-mode-free)" opacity=".45" />
      <g font-size="11" font-weight="600" fill="var(--color-ink)">
        <text x="12" y="20">{{ short(door.outside || 'Outside', 24) }}</text>
        <text x="324" y="20" text-anchor="end">{{ short(door.inside || 'Inside', 22) }}</text>
      </g>

      <PortraitLeaf :door="door" :open="state.open" />
      <!-- lock -->
      <g v-if="door.lock === 'magnetic'">
        <rect
          x="186"
          y="41"
          width="30"
          height="9"
          :fill="state.released ? 'var(--color-dot)' : 'var(--color-amber)'"
          stroke="var(--color-ink)"
        />
      </g>
      <g v-else>
        <rect
          x="212"
          y="139"
          width="14"
          height="26"
          rx="2"
          fill="var(--color-paper)"
          stroke="var(--color-ink)"
          stroke-width="1.5"
        />
        <rect
          :x="state.released ? 218 : 208"
          y="149"
          :width="state.released ? 6 : 13"
          height="6"
          :fill="state.released ? 'var(--color-dot)' : 'var(--color-ink)'"
        />
      </g>
      <text x="234" y="196" font-size="10.5" font-weight="600" fill="var(--color-ink)">{{ lockNames[door.lock] }}</text>
      <text x="234" y="209" font-size="10.5" fill="var(--color-ash)">
        {{ door.failSafe ? 'fail-safe' : 'fail-secure' }}
      </text>
      <text
        x="234"
        y="222"
        font-size="10.5"
        :fill="state.released ? 'var(--color-kelp)' : 'var(--color-ash)'"
        :font-weight="state.released ? 700 : 400"
      >
        {{
          state.dark
            ? state.released
              ? 'no power: lets go'
              : 'no power: holds'
            : state.released
              ? 'released'
              : 'locked'
        }}
      </text>
      <!-- contact -->
      <template v-if="door.contact !== 'none'">
        <rect
          x="150"
          y="36"
          width="22"
          height="8"
          :fill="state.open ? 'var(--color-paper)' : 'var(--color-amber)'"
          stroke="var(--color-ink)"
        />
        <polyline points="161,36 161,30 182,30" fill="none" stroke="var(--color-ash)" />
        <text x="186" y="33" font-size="10.5" font-weight="600" fill="var(--color-ink)">
          Contact · {{ state.open ? 'open' : 'closed' }}{{ door.contactSupervised ? ' · supervised' : '' }}
        </text>
      </template>
      <text v-else x="186" y="33" font-size="10.5" fill="var(--color-ash)">No contact</text>
      <template v-for="r in readers" :key="r.name">
        <PortraitReader
          v-if="r.fitted"
          :name="r.name"
          :x="r.x"
          :keypad="r.keypad"
          :show="r.show"
          :plugged="r.plugged"
        />
      </template>
      <!-- exit request -->
      <g v-if="door.exit !== 'none'">
        <text
          :x="door.out.fitted ? 312 : 284"
          y="74"
          font-size="10.5"
          font-weight="600"
          text-anchor="middle"
          fill="var(--color-ink)"
        >
          {{ { motion: 'Motion', lock: 'Handle', touchless: 'Touchless' }[door.exitKind as 'motion'] ?? 'Exit' }}
        </text>
        <circle
          :cx="door.out.fitted ? 312 : 284"
          cy="92"
          r="13"
          fill="var(--color-paper)"
          stroke="var(--color-ink)"
          stroke-width="2"
        />
        <path
          :d="`M${(door.out.fitted ? 312 : 284) + 6} 92 h-12 m5 -5 l-5 5 l5 5`"
          fill="none"
          stroke="var(--color-ink)"
          stroke-width="2"
        />
      </g>
      <line x1="0" x2="336" y1="240" y2="240" stroke="var(--color-ash)" stroke-width="1.5" />
      <g fill="var(--color-kelp)">
        <rect x="14" y="250" width="66" height="2.4" />
        <polygon points="78,246.5 90,251.2 78,256" />
      </g>
      <text x="96" y="255" font-size="10.5" fill="var(--color-ash)">way in</text>
      <g v-if="door.outOfUse">
        <rect x="8" y="26" width="88" height="16" rx="3" fill="var(--color-ash)" />
        <text x="52" y="37.5" text-anchor="middle" font-size="10.5" font-weight="700" fill="var(--color-paper)">
          out of use
        </text>
      </g>
      <g v-if="state.alarm">
        <rect x="196" y="243.5" width="132" height="16" rx="3" fill="var(--color-wine)" />
        <text x="262" y="255" text-anchor="middle" font-size="10.5" font-weight="700" fill="var(--color-paper)">
          {{
            { forced: 'door forced', 'held-open': 'door held open', 'held-warning': 'held open soon' }[state.alarm] ??
            state.alarm
          }}
        </text>
      </g>
    </svg>
    <template v-if="playable">
      <PortraitHand
        :box="[112, 40, 112, 184]"
        :label="state.open ? 'Close the door' : 'Open the door'"
        @click="emit('leaf')"
      />
      <template v-for="r in readers" :key="r.name">
        <PortraitHand
          v-if="r.fitted"
          :box="[r.x - 30, 84, 60, 88]"
          :label="`Present the card at the ${r.name.toLowerCase()}`"
          @click="emit('present', r.out)"
        />
      </template>
      <PortraitHand
        v-if="door.exit !== 'none'"
        :box="[(door.out.fitted ? 312 : 284) - 18, 62, 36, 48]"
        label="Press the exit button"
        @click="emit('exit')"
      />
    </template>
  </div>
</template>
