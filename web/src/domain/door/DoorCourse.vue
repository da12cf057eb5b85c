<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'

/** What lock and leaf do after a grant, by the door's own machine: drawn along measured seconds. */
const props = defineProps<{ door: Schemas['Door'] }>()
const text = computed(() => JSON.stringify({ ...props.door, name: '-' }))
const settled = refDebounced(text, 250)
const query = useComputed(
  'door course',
  () => [settled.value],
  (signal) => ask(api.POST('/api/door-course', { body: JSON.parse(settled.value) as Schemas['Door'], signal })),
)
const courses = ref<Schemas['Course'][]>([])
watch(
  () => query.data.value,
  (c) => c && (courses.value = c),
  { immediate: true },
)
const words: Record<string, string> = {
  'opened-alone': 'no reason',
  forced: 'forced',
  'held-warning': 'warning',
  'held-open': 'held open',
  'not-taken': 'not taken',
}
const notable = (c: Schemas['Course']) => c.told.filter((t) => words[t.kind])
const x = (c: Schemas['Course'], ms: number) => 64 + (ms / c.length) * 500
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
    <p class="label">What lock and leaf do after a grant</p>
    <div v-for="c in courses" :key="c.name">
      <svg viewBox="0 0 580 44" class="block w-full" role="img" :aria-label="says(c)">
        <text x="0" y="9" font-size="10.5" font-weight="600" fill="var(--color-ink)">{{ c.name }}</text>
        <g font-size="10" fill="var(--color-ash)">
          <text x="26" y="24">lock</text>
          <text v-if="c.open.length" x="26" y="39">leaf</text>
        </g>
        <line x1="64" x2="564" y1="21" y2="21" stroke="var(--color-seam)" />
        <rect
          v-for="(s, i) in c.released"
          :key="`r${i}`"
          :x="x(c, s.from)"
          y="14"
          :width="Math.max(2, x(c, s.to) - x(c, s.from))"
          height="12"
          fill="var(--color-mode-free)"
          stroke="var(--color-kelp)"
        />
        <template v-if="c.open.length">
          <line x1="64" x2="564" y1="36" y2="36" stroke="var(--color-seam)" />
          <rect
            v-for="(s, i) in c.open"
            :key="`o${i}`"
            :x="x(c, s.from)"
            y="30"
            :width="Math.max(2, x(c, s.to) - x(c, s.from))"
            height="11"
            fill="var(--color-mode-card)"
            stroke="var(--color-copper)"
          />
        </template>
        <text
          v-for="(s, i) in c.released"
          :key="`t${i}`"
          :x="x(c, s.to) + 3"
          y="24"
          font-size="9.5"
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
            y2="42"
            stroke-width="1.5"
            :stroke="t.alarm ? 'var(--color-wine)' : 'var(--color-copper)'"
          />
          <text
            :x="Math.min(x(c, t.at), 520)"
            :y="i % 2 ? 9 : 10"
            font-size="9.5"
            font-weight="600"
            text-anchor="middle"
            :fill="t.alarm ? 'var(--color-wine)' : 'var(--color-copper)'"
          >
            {{ words[t.kind] }} {{ seconds(t.at) }}
          </text>
        </g>
      </svg>
    </div>
  </div>
</template>
