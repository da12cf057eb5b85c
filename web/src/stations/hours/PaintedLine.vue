<script setup lang="ts">
import { clock } from '../../clock'
import { modeClass } from '../../words'
import { stretched, type Edge, type Line, type Period } from './painter'
import type { Piece } from './week'

/** One line of a painted week: its pieces, what the night before leaves in it, and what runs past its midnight. */
const props = defineProps<{
  line: Line
  otherwise?: string
  /** Where the chosen piece starts, of this line or of the night before. */
  chosen?: number
  chosenNight?: number
  /** The edge that is being held. */
  held?: Edge
}>()
const pct = (m: number) => `${(m / 1440) * 100}%`
const drawn = (p: Piece): Period => (props.held?.piece === p ? stretched(props.held) : p)
const spoken = (p: Piece) =>
  `${clock(p.start)}–${clock(p.end)} ${p.mode ?? 'open'}${p.first ? ' after a first card' : ''}${p.levels?.length ? ', limited to levels' : ''}`
</script>

<template>
  <div
    class="absolute inset-x-0 h-[27px] overflow-hidden"
    :class="
      line.words
        ? 'border border-dashed border-seam bg-lime'
        : otherwise
          ? modeClass(otherwise)
          : 'border border-seam bg-lime'
    "
    :data-day="line.label"
  >
    <span v-if="line.words" class="absolute inset-0 flex items-center justify-center text-[12px] text-ash">{{
      line.words
    }}</span>
    <div
      v-for="(p, k) in line.pieces.filter((x) => x.start < 1440)"
      :key="k"
      class="absolute inset-y-0"
      :class="[modeClass(p.mode ?? 'open'), chosen === p.start ? 'outline-2 -outline-offset-2 outline-ink' : '']"
      :style="{ left: pct(drawn(p).start), width: pct(Math.min(drawn(p).end, 1440) - drawn(p).start) }"
      :title="spoken(p)"
    >
      <span v-if="p.first" class="flag absolute inset-y-0 left-0 w-2 bg-kelp" /><span
        v-if="p.levels?.length"
        class="absolute inset-x-0 bottom-0 h-[3px] bg-kelp"
      />
      <span
        v-if="p.end > 1440"
        class="absolute inset-y-0 right-0 bg-paper/80 px-1 font-mono text-[10.5px] leading-[27px]"
        :title="`runs on until ${clock(p.end)} the next day`"
        >→{{ clock(p.end) }}</span
      >
    </div>
    <div
      v-for="(p, k) in line.tail"
      :key="`t${k}`"
      class="absolute inset-y-0"
      :class="[modeClass(p.mode ?? 'open'), chosenNight === p.start ? 'outline-2 -outline-offset-2 outline-ink' : '']"
      :style="{ left: pct(Math.max(0, p.start - 1440)), width: pct(p.end - Math.max(1440, p.start)) }"
      :title="`until ${clock(p.end)}, since the day before, ${p.mode ?? 'open'}`"
    />
    <span
      v-for="(p, k) in line.row.typeId ? line.pieces.filter((x) => x.start >= 1440) : []"
      :key="`m${k}`"
      class="absolute inset-y-0 right-0 bg-paper/80 px-1 font-mono text-[10.5px] leading-[27px]"
      :class="modeClass(p.mode ?? 'open')"
      :title="`${clock(p.start)}–${clock(p.end)} on the day after, ${p.mode ?? 'open'}`"
      >→{{ clock(p.start) }}–{{ clock(p.end) }}</span
    >
    <span v-for="h in 7" :key="h" class="absolute inset-y-0 w-px bg-ash/15" :style="{ left: pct(h * 180) }" />
  </div>
</template>

<style scoped>
.flag {
  clip-path: polygon(0 0, 100% 50%, 0 100%);
}
</style>
