<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { areaLayout, roomHeight, roomWidth } from './areaLayout'

/** Areas as rooms, with how many are inside, and the doors that lead from one to another as arrows between them. */
const props = defineProps<{ areas: Schemas['AreaNow'][] }>()
const layout = computed(() => areaLayout(props.areas))
const short = (name: string) => (name.length > 22 ? name.slice(0, 21) + '…' : name)
const words = computed(() =>
  props.areas
    .flatMap((a) => [
      `${a.name}: ${a.inside}${a.most ? ` of at most ${a.most}` : ''} inside`,
      ...a.ways
        .filter((w) => w.to === a.name)
        .map((w) => `${w.name} leads there from ${w.from}${w.out ? ', and back' : ''}`),
    ])
    .join('. '),
)
</script>

<template>
  <svg
    :viewBox="`0 0 ${layout.w} ${layout.h}`"
    class="w-full"
    :style="{ maxHeight: '360px' }"
    role="img"
    :aria-label="words"
  >
    <defs>
      <marker
        id="area-tip"
        viewBox="0 0 8 8"
        refX="7"
        refY="4"
        markerWidth="7"
        markerHeight="7"
        orient="auto-start-reverse"
      >
        <path d="M0 0 8 4 0 8Z" fill="var(--color-kelp)" />
      </marker>
    </defs>
    <rect
      :x="layout.outside.x"
      :y="layout.outside.y"
      :width="roomWidth"
      :height="layout.outside.height"
      rx="14"
      fill="none"
      stroke="var(--color-ash)"
      stroke-dasharray="4 4"
    />
    <text
      :x="layout.outside.x + roomWidth / 2"
      :y="layout.outside.y + layout.outside.height / 2 + 4"
      text-anchor="middle"
      font-size="13"
      fill="var(--color-ash)"
    >
      outside
    </text>
    <g v-for="r in layout.rooms" :key="r.id">
      <rect
        :x="r.x"
        :y="r.y"
        :width="roomWidth"
        :height="roomHeight"
        rx="4"
        fill="var(--color-lime)"
        :stroke="r.most && r.inside >= r.most ? 'var(--color-wine)' : 'var(--color-basalt)'"
        stroke-width="2"
      />
      <text
        :x="r.x + roomWidth / 2"
        :y="r.y + 27"
        text-anchor="middle"
        font-size="13"
        font-weight="600"
        fill="var(--color-ink)"
      >
        {{ short(r.name) }}
      </text>
      <text :x="r.x + roomWidth / 2" :y="r.y + 52" text-anchor="middle" font-size="17" fill="var(--color-ink)">
        {{ r.inside }}{{ r.most ? ` / ${r.most}` : '' }}
      </text>
    </g>
    <g v-for="w in layout.arrows" :key="w.id">
      <line
        :x1="w.x1"
        :y1="w.y1"
        :x2="w.x2"
        :y2="w.y2"
        stroke="var(--color-kelp)"
        stroke-width="2"
        marker-end="url(#area-tip)"
        :marker-start="w.out ? 'url(#area-tip)' : undefined"
      />
      <text
        :x="(w.x1 + w.x2) / 2"
        :y="(w.y1 + w.y2) / 2 - 7"
        text-anchor="middle"
        font-size="12"
        fill="var(--color-ink)"
      >
        {{ short(w.name) }}
      </text>
    </g>
  </svg>
</template>
