<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { timeOf } from '../../words'

/** Leaf and reader over the last seconds, by the controller's clock. */
const props = defineProps<{ said: Schemas['Said'][]; zone: string; clock: number; open: boolean; released: boolean }>()
const span = 30_000
const end = computed(() => Math.max(props.clock, props.said[0]?.at ?? 0))
const x = (t: number) => 60 + ((t - (end.value - span)) / span) * 640
const within = (t: number) => t >= end.value - span

const leaf = computed(() => {
  const out: { from: number; to: number; forced: boolean }[] = []
  let closedAt = end.value
  let known = props.open
  for (const s of props.said) {
    if (s.kind === 'closed') {
      closedAt = s.at
      known = true
    }
    if (s.kind === 'opened' || s.kind === 'opened-alone') {
      if (known && closedAt >= end.value - span)
        out.push({ from: Math.max(s.at, end.value - span), to: closedAt, forced: s.kind === 'opened-alone' })
      known = false
    }
  }
  return out
})
const reads = computed(() =>
  props.said.filter((s) => ['granted', 'refused', 'awaiting-pin', 'exit-request'].includes(s.kind) && within(s.at)),
)
const ticks = computed(() => {
  const first = Math.ceil((end.value - span) / 5000) * 5000
  return Array.from({ length: 6 }, (_, i) => first + i * 5000).filter((t) => t <= end.value)
})
</script>

<template>
  <section class="card">
    <div class="card-head">
      <h2>Leaf and reader</h2>
      <span class="note">last 30 s</span>
    </div>
    <svg viewBox="0 0 720 92" class="block w-full" role="img" aria-label="Leaf and reader over the last 30 seconds">
      <g font-family="var(--font-mono)" font-size="11" fill="var(--color-ash)">
        <text x="8" y="26">leaf</text>
        <text x="8" y="56">reader</text>
      </g>
      <line
        v-for="y in [22, 52]"
        :key="y"
        x1="60"
        x2="700"
        :y1="y"
        :y2="y"
        stroke="var(--color-seam)"
        stroke-width="1.5"
      />
      <g v-for="(l, i) in leaf" :key="i">
        <rect
          :x="x(l.from)"
          y="12"
          :width="Math.max(3, x(l.to) - x(l.from))"
          height="20"
          :fill="l.forced ? 'var(--color-wine)' : 'var(--color-mode-card)'"
          :stroke="l.forced ? 'var(--color-wine)' : 'var(--color-copper)'"
          :fill-opacity="l.forced ? 0.2 : 1"
        />
        <text
          v-if="x(l.to) - x(l.from) > 52"
          :x="x(l.from) + 6"
          y="26"
          font-size="11"
          font-weight="600"
          :fill="l.forced ? 'var(--color-wine)' : 'var(--color-ink)'"
        >
          {{ l.forced ? 'no grant' : 'open' }} {{ ((l.to - l.from) / 1000).toFixed(1) }} s
        </text>
      </g>
      <g v-for="r in reads" :key="r.seq">
        <line
          :x1="x(r.at)"
          :x2="x(r.at)"
          y1="40"
          y2="62"
          stroke-width="2.5"
          :stroke="
            r.outcome === 'granted'
              ? 'var(--color-kelp)'
              : r.outcome === 'refused'
                ? 'var(--color-wine)'
                : 'var(--color-ash)'
          "
        />
        <text
          :x="x(r.at) + (x(r.at) > 560 ? -5 : 5)"
          :text-anchor="x(r.at) > 560 ? 'end' : 'start'"
          y="49"
          font-size="10.5"
          font-weight="600"
          :fill="
            r.outcome === 'granted'
              ? 'var(--color-kelp)'
              : r.outcome === 'refused'
                ? 'var(--color-wine)'
                : 'var(--color-ash)'
          "
        >
          {{ r.person || r.headline }}
        </text>
      </g>
      <g font-family="var(--font-mono)" font-size="10.5" fill="var(--color-ash)">
        <text v-for="t in ticks" :key="t" :x="x(t)" y="84" text-anchor="middle">{{ timeOf(t, zone) }}</text>
      </g>
    </svg>
  </section>
</template>
