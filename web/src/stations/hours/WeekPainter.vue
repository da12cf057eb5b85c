<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { clock, hourMark } from '../../clock'
import { modeClass } from '../../words'
import PaintedLine from './PaintedLine.vue'
import {
  act,
  edgeAt,
  gap,
  high,
  marked,
  paints,
  spotAt,
  top,
  type Act,
  type Hand,
  type Line,
  type Period,
} from './painter'
import type { Piece, Row } from './week'

/** A week to paint on: drag over minutes and rows, drag an edge to stretch, or arrows and Enter. */
const props = defineProps<{
  lines: Line[]
  otherwise?: string
  brush: string
  readonly?: boolean
  chosen?: { line: number; start: number }
}>()
const emit = defineEmits<{
  stroke: [rows: Row[], period: Period]
  wipe: [rows: Row[], period: Period]
  stretch: [row: Row, was: Piece, period: Period]
  choose: [line: number, piece?: Piece]
  at: [line: number]
}>()
defineSlots<{ label(p: { line: Line; index: number }): unknown }>()

const grid = ref<HTMLElement>()
const hand = shallowRef<Hand>({ cursor: { line: 0, minute: 480 }, pressed: false })
const focused = ref(false)
const overEdge = ref(false)
const pct = (m: number) => `${(m / 1440) * 100}%`
const total = computed(() => top(props.lines.length))
const range = computed(() => marked(hand.value))
const rows = (first: number, last: number) => props.lines.slice(first, last + 1).map((l) => l.row)

function does(a: Act) {
  const [next, outcomes] = act(hand.value, a, props.lines)
  hand.value = next
  for (const o of outcomes)
    if (o.is === 'at') emit('at', o.line)
    else if (o.is === 'stroke') emit('stroke', rows(o.first, o.last), o.period)
    else if (o.is === 'wipe') emit('wipe', rows(o.first, o.last), o.period)
    else if (o.is === 'stretch') emit('stretch', props.lines[o.line]!.row, o.piece, o.period)
    else emit('choose', o.line, o.piece)
}
/** Where a pointer is on the grid, in pixels from its corner, with the grid's width. */
function point(e: PointerEvent): [x: number, y: number, width: number] {
  const box = grid.value!.getBoundingClientRect()
  return [e.clientX - box.left, e.clientY - box.top, box.width]
}
const spot = (e: PointerEvent) => spotAt(...point(e), props.lines.length)
function down(e: PointerEvent) {
  if (props.readonly || e.button) return
  grid.value!.setPointerCapture(e.pointerId)
  does({ do: 'press', at: spot(e), edge: edgeAt(...point(e), props.lines) })
}
function move(e: PointerEvent) {
  if (hand.value.edge || hand.value.pressed) does({ do: 'move', at: spot(e) })
  else overEdge.value = !props.readonly && !!edgeAt(...point(e), props.lines)
}
function key(e: KeyboardEvent) {
  if (props.readonly || e.ctrlKey || e.metaKey || e.altKey || !paints.has(e.key)) return
  does({ do: 'key', key: e.key, shift: e.shiftKey })
  e.preventDefault()
}
const held = computed(() => hand.value.edge)
const tag =
  'pointer-events-none absolute z-10 -translate-x-1/2 -translate-y-full rounded bg-basalt px-1.5 py-0.5 font-mono text-[12px] font-semibold text-paper'
</script>

<template>
  <div class="flex px-3.5 pt-3 pb-2.5">
    <div class="w-36 shrink-0 pt-6 pr-2">
      <div
        v-for="(l, i) in lines"
        :key="`${l.row.day} ${l.row.typeId}`"
        class="h-[32px]"
        :class="i === 7 ? 'mt-[14px]' : ''"
      >
        <slot name="label" :line="l" :index="i" />
      </div>
    </div>
    <div class="min-w-0 flex-1">
      <div class="relative h-6 font-mono text-[11px] text-ash" aria-hidden="true">
        <span v-for="h in 9" :key="h" class="absolute -translate-x-1/2" :style="{ left: pct((h - 1) * 180) }">{{
          hourMark((h - 1) * 3)
        }}</span>
      </div>
      <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- an application has keys of its own -->
      <div
        ref="grid"
        class="relative touch-none select-none"
        :class="readonly ? '' : overEdge || held ? 'cursor-ew-resize' : 'cursor-crosshair'"
        :style="{ height: `${total}px` }"
        :tabindex="readonly ? -1 : 0"
        role="application"
        :aria-label="`Week. ${lines[hand.cursor.line]?.label} ${clock(hand.cursor.minute)}. Arrows move, Enter begins and ends a stroke of ${brush}, E edits the segment, Delete takes it away.`"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="does({ do: 'release' })"
        @pointercancel="does({ do: 'release' })"
        @keydown="key"
        @focus="focused = true"
        @blur="focused = false"
      >
        <div
          v-if="lines.length > 7"
          class="absolute inset-x-0 border-t border-dashed border-seam"
          :style="{ top: `${7 * high + gap / 2 - 2}px` }"
        />
        <PaintedLine
          v-for="(l, i) in lines"
          :key="`${l.row.day} ${l.row.typeId}`"
          :line="l"
          :otherwise="otherwise"
          :chosen="chosen?.line === i ? chosen.start : undefined"
          :chosen-night="chosen?.line === (i + 6) % 7 ? chosen.start : undefined"
          :held="held?.line === i ? held : undefined"
          :style="{ top: `${top(i)}px` }"
        />
        <template v-if="held"
          ><span :class="tag" :style="{ left: pct(held.minute), top: `${top(held.line)}px` }">{{
            clock(held.minute)
          }}</span></template
        >
        <template v-else-if="(hand.pressed || hand.anchor) && !readonly">
          <div
            class="pointer-events-none absolute rounded-sm outline-2 outline-ink"
            :class="modeClass(brush)"
            :style="{
              left: pct(range.period.start),
              width: pct(range.period.end - range.period.start),
              top: `${top(range.first)}px`,
              height: `${top(range.last) - top(range.first) + 27}px`,
            }"
          />
          <span :class="tag" :style="{ left: pct(range.period.start), top: `${top(range.first)}px` }">{{
            clock(range.period.start)
          }}</span>
          <span :class="tag" :style="{ left: pct(range.period.end), top: `${top(range.first)}px` }">{{
            clock(range.period.end)
          }}</span>
        </template>
        <template v-else-if="focused && !readonly">
          <span
            class="pointer-events-none absolute h-[27px] w-0.5 bg-ink"
            :style="{ left: pct(hand.cursor.minute), top: `${top(hand.cursor.line)}px` }"
          />
          <span :class="tag" :style="{ left: pct(hand.cursor.minute), top: `${top(hand.cursor.line)}px` }">{{
            clock(hand.cursor.minute)
          }}</span>
        </template>
      </div>
    </div>
  </div>
</template>
