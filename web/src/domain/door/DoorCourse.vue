<script setup lang="ts">
import type { Schemas } from '../../api/client'

/** What lock and leaf do after a grant, by the door's own machine: drawn along measured seconds. */
defineProps<{ courses: Schemas['Course'][]; power: string }>()
const words: Record<string, string> = {
  'opened-alone': 'no reason',
  forced: 'forced',
  'held-warning': 'warning',
  'held-open': 'held open',
  'not-taken': 'not taken',
}
const notable = (c: Schemas['Course']) => c.told.filter((t) => words[t.kind])
const x = (c: Schemas['Course'], ms: number) => 30 + (ms / c.length) * 244
const seconds = (ms: number) => `${(ms / 1000).toLocaleString('en', { maximumFractionDigits: 1 })} s`
/** The same in words, for whoever does not see the drawing. */
function says(c: Schemas['Course']): string {
  const lock = c.released.map((s) => `released from ${seconds(s.from)} to ${seconds(s.to)}`).join(', ')
  const leaf = c.open.map((s) => `open from ${seconds(s.from)} to ${seconds(s.to)}`).join(', ')
  const told = notable(c).map((t) => `${words[t.kind]} at ${seconds(t.at)}`)
  return `${c.name}: lock ${lock}${leaf ? `; leaf ${leaf}` : ''}${told.length ? `; ${told.join(', ')}` : ''}`
}
</script>

<template>
  <div class="space-y-1">
    <div v-for="c in courses" :key="c.name">
      <svg viewBox="0 0 300 50" class="block w-full" role="img" :aria-label="says(c)">
        <text x="0" y="9" font-size="10.5" font-weight="600" fill="var(--color-ink)">{{ c.name }}</text>
        <g font-size="10" fill="var(--color-ash)">
          <text x="0" y="26">lock</text>
          <text v-if="c.open.length" x="0" y="43">leaf</text>
        </g>
        <line x1="30" x2="274" y1="23" y2="23" stroke="var(--color-seam)" />
        <rect
          v-for="(s, i) in c.released"
          :key="`r${i}`"
          :x="x(c, s.from)"
          y="16"
          :width="Math.max(2, x(c, s.to) - x(c, s.from))"
          height="13"
          fill="var(--color-mode-free)"
          stroke="var(--color-kelp)"
        />
        <template v-if="c.open.length">
          <line x1="30" x2="274" y1="40" y2="40" stroke="var(--color-seam)" />
          <rect
            v-for="(s, i) in c.open"
            :key="`o${i}`"
            :x="x(c, s.from)"
            y="34"
            :width="Math.max(2, x(c, s.to) - x(c, s.from))"
            height="12"
            fill="var(--color-mode-card)"
            stroke="var(--color-copper)"
          />
        </template>
        <text
          v-for="(s, i) in c.released"
          :key="`t${i}`"
          :x="x(c, s.to) + 3"
          y="27"
          font-size="10"
          font-family="var(--font-mono)"
          fill="var(--color-kelp)"
        >
          {{ seconds(s.to) }}
        </text>
        <g v-for="(t, i) in notable(c)" :key="`n${i}`">
          <line
            :x1="x(c, t.at)"
            :x2="x(c, t.at)"
            y1="12"
            y2="47"
            stroke-width="1.5"
            :stroke="t.alarm ? 'var(--color-wine)' : 'var(--color-copper)'"
          />
          <text
            :x="i === notable(c).length - 1 ? Math.min(x(c, t.at) + 40, 298) : x(c, t.at) - 2"
            :y="9"
            font-size="9.5"
            font-weight="600"
            text-anchor="end"
            :fill="t.alarm ? 'var(--color-wine)' : 'var(--color-copper)'"
          >
            {{ words[t.kind] }} {{ seconds(t.at) }}
          </text>
        </g>
      </svg>
    </div>
    <p class="border-t border-seam pt-2 text-[13px]"><b>Without power</b> the lock {{ power }}.</p>
  </div>
</template>
