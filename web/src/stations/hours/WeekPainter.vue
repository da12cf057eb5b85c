<script setup lang="ts">
import { computed, ref } from 'vue'
import { clock, modeClass } from '../../words'
import type { Piece, Row } from './week'

type Period = { start: number; end: number }
/** One line of the painter: a weekday, or the days of a holiday type. */
export type Line = { row: Row; label: string; pieces: Piece[]; tail: Piece[]; words?: string }

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

const snap = 5
const high = 32
const gap = 14
const grid = ref<HTMLElement>()
const cursor = ref({ line: 0, minute: 480 })
const anchor = ref<{ line: number; minute: number }>()
const pressed = ref(false)
const focused = ref(false)
const edge = ref<{ line: number; piece: Piece; end: boolean; minute: number }>()
const pct = (m: number) => `${(m / 1440) * 100}%`
const top = (i: number) => i * high + (i > 6 ? gap : 0)
const total = computed(() => top(props.lines.length))

const range = computed(() => {
  const a = anchor.value ?? cursor.value
  const b = cursor.value
  const start = Math.min(a.minute, b.minute)
  const end = Math.max(a.minute, b.minute)
  return { first: Math.min(a.line, b.line), last: Math.max(a.line, b.line), start, end: Math.max(end, start + snap) }
})
const rows = () => props.lines.slice(range.value.first, range.value.last + 1).map((l) => l.row)
const period = () => ({ start: Math.min(range.value.start, 1440 - snap), end: Math.min(range.value.end, 1440) })

function spot(e: PointerEvent) {
  const box = grid.value!.getBoundingClientRect()
  const minute = Math.max(0, Math.min(1440, Math.round((((e.clientX - box.left) / box.width) * 1440) / snap) * snap))
  const y = e.clientY - box.top
  const line = y < 7 * high + gap / 2 ? Math.floor(y / high) : Math.floor((y - gap) / high)
  return { line: Math.max(0, Math.min(props.lines.length - 1, line)), minute }
}
/** The edge of a piece under the pointer, within a few pixels. */
function edgeAt(e: PointerEvent) {
  const box = grid.value!.getBoundingClientRect()
  const exact = ((e.clientX - box.left) / box.width) * 1440
  const near = (6 / box.width) * 1440
  const at = spot(e)
  for (const p of props.lines[at.line]!.pieces) {
    for (const end of [false, true]) {
      const m = end ? p.end : p.start
      if (m <= 1440 && Math.abs(m - exact) < Math.min(near, (p.end - p.start) / 3))
        return { line: at.line, piece: p, end, minute: m }
    }
  }
}
function down(e: PointerEvent) {
  if (props.readonly || e.button) return
  grid.value!.setPointerCapture(e.pointerId)
  edge.value = edgeAt(e)
  cursor.value = spot(e)
  emit('at', cursor.value.line)
  if (edge.value) return
  pressed.value = true
  anchor.value = { ...cursor.value }
}
const overEdge = ref(false)
function move(e: PointerEvent) {
  if (edge.value) edge.value.minute = spot(e).minute
  else if (pressed.value) cursor.value = spot(e)
  else overEdge.value = !props.readonly && !!edgeAt(e)
}
const pieceAt = (line: number, minute: number) =>
  props.lines[line]!.pieces.find((p) => p.start <= minute && minute < p.end)
/** Chooses what lies at a minute: a piece of the row, or what is left there of the night before, which belongs to its evening. */
function chooseAt(line: number, minute: number) {
  const own = pieceAt(line, minute)
  const before = line < 7 ? (line + 6) % 7 : line
  const night = own ? undefined : pieceAt(before, minute + 1440)
  emit('choose', night ? before : line, own ?? night)
}
function up() {
  if (edge.value) {
    const { piece, end, minute, line } = edge.value
    const to = end
      ? { start: piece.start, end: Math.max(minute, piece.start + snap) }
      : { start: Math.min(minute, Math.min(piece.end, 1440) - snap), end: piece.end }
    if (to.start !== piece.start || to.end !== piece.end) emit('stretch', props.lines[line]!.row, piece, to)
    else emit('choose', line, piece)
    edge.value = undefined
    return
  }
  if (!pressed.value) return
  pressed.value = false
  if (anchor.value!.minute !== cursor.value.minute || anchor.value!.line !== cursor.value.line) {
    if (anchor.value!.minute !== cursor.value.minute) emit('stroke', rows(), period())
  } else chooseAt(cursor.value.line, cursor.value.minute)
  anchor.value = undefined
}
function key(e: KeyboardEvent) {
  if (props.readonly || e.ctrlKey || e.metaKey || e.altKey) return
  const step = e.shiftKey ? 60 : snap
  const c = cursor.value
  const to = (line: number, minute: number) => {
    cursor.value = {
      line: Math.max(0, Math.min(props.lines.length - 1, line)),
      minute: Math.max(0, Math.min(1440, minute)),
    }
    emit('at', cursor.value.line)
  }
  if (e.key === 'ArrowRight') to(c.line, c.minute + step)
  else if (e.key === 'ArrowLeft') to(c.line, c.minute - step)
  else if (e.key === 'ArrowDown') to(c.line + 1, c.minute)
  else if (e.key === 'ArrowUp') to(c.line - 1, c.minute)
  else if (e.key === 'Home') to(c.line, 0)
  else if (e.key === 'End') to(c.line, 1440)
  else if (e.key === 'Enter') {
    if (anchor.value) {
      emit('stroke', rows(), period())
      anchor.value = undefined
    } else anchor.value = { ...c }
  } else if (e.key === 'Delete' || e.key === 'Backspace') {
    const under = pieceAt(c.line, c.minute)
    if (anchor.value) emit('wipe', rows(), period())
    else if (under) emit('wipe', [props.lines[c.line]!.row], { start: under.start, end: under.end })
    anchor.value = undefined
  } else if (e.key.toLowerCase() === 'e') chooseAt(c.line, c.minute)
  else if (e.key === 'Escape') {
    anchor.value = undefined
    pressed.value = false
  } else return
  e.preventDefault()
}
const tag =
  'pointer-events-none absolute z-10 -translate-x-1/2 -translate-y-full rounded bg-basalt px-1.5 py-0.5 font-mono text-[12px] font-semibold text-paper'
const drawn = (p: Piece): Period =>
  edge.value?.piece === p
    ? edge.value.end
      ? { start: p.start, end: Math.max(edge.value.minute, p.start + snap) }
      : { start: Math.min(edge.value.minute, p.end - snap), end: p.end }
    : p
const spoken = (p: Piece) =>
  `${clock(p.start)}–${clock(p.end)} ${p.mode ?? 'open'}${p.first ? ' after a first card' : ''}${p.levels?.length ? ', limited to levels' : ''}`
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
          String((h - 1) * 3).padStart(2, '0')
        }}</span>
      </div>
      <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- an application has keys of its own -->
      <div
        ref="grid"
        class="relative touch-none select-none"
        :class="readonly ? '' : overEdge || edge ? 'cursor-ew-resize' : 'cursor-crosshair'"
        :style="{ height: `${total}px` }"
        :tabindex="readonly ? -1 : 0"
        role="application"
        :aria-label="`Week. ${lines[cursor.line]?.label} ${clock(cursor.minute)}. Arrows move, Enter begins and ends a stroke of ${brush}, E edits the segment, Delete takes it away.`"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="up"
        @pointercancel="up"
        @keydown="key"
        @focus="focused = true"
        @blur="focused = false"
      >
        <div
          v-if="lines.length > 7"
          class="absolute inset-x-0 border-t border-dashed border-seam"
          :style="{ top: `${7 * high + gap / 2 - 2}px` }"
        />
        <div
          v-for="(l, i) in lines"
          :key="`${l.row.day} ${l.row.typeId}`"
          class="absolute inset-x-0 h-[27px] overflow-hidden"
          :class="
            l.words
              ? 'border border-dashed border-seam bg-lime'
              : otherwise
                ? modeClass(otherwise)
                : 'border border-seam bg-lime'
          "
          :style="{ top: `${top(i)}px` }"
          :data-day="l.label"
        >
          <span v-if="l.words" class="absolute inset-0 flex items-center justify-center text-[12px] text-ash">{{
            l.words
          }}</span>
          <div
            v-for="(p, k) in l.pieces.filter((x) => x.start < 1440)"
            :key="k"
            class="absolute inset-y-0"
            :class="[
              modeClass(p.mode ?? 'open'),
              chosen?.line === i && chosen.start === p.start ? 'outline-2 -outline-offset-2 outline-ink' : '',
            ]"
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
            v-for="(p, k) in l.tail"
            :key="`t${k}`"
            class="absolute inset-y-0"
            :class="[
              modeClass(p.mode ?? 'open'),
              chosen?.line === (i + 6) % 7 && chosen.start === p.start ? 'outline-2 -outline-offset-2 outline-ink' : '',
            ]"
            :style="{ left: pct(Math.max(0, p.start - 1440)), width: pct(p.end - Math.max(1440, p.start)) }"
            :title="`until ${clock(p.end)}, since the day before, ${p.mode ?? 'open'}`"
          />
          <span
            v-for="(p, k) in l.row.typeId ? l.pieces.filter((x) => x.start >= 1440) : []"
            :key="`m${k}`"
            class="absolute inset-y-0 right-0 bg-paper/80 px-1 font-mono text-[10.5px] leading-[27px]"
            :class="modeClass(p.mode ?? 'open')"
            :title="`${clock(p.start)}–${clock(p.end)} on the day after, ${p.mode ?? 'open'}`"
            >→{{ clock(p.start) }}–{{ clock(p.end) }}</span
          >
          <span v-for="h in 7" :key="h" class="absolute inset-y-0 w-px bg-ash/15" :style="{ left: pct(h * 180) }" />
        </div>
        <template v-if="edge"
          ><span :class="tag" :style="{ left: pct(edge.minute), top: `${top(edge.line)}px` }">{{
            clock(edge.minute)
          }}</span></template
        >
        <template v-else-if="(pressed || anchor) && !readonly">
          <div
            class="pointer-events-none absolute rounded-sm outline-2 outline-ink"
            :class="modeClass(brush)"
            :style="{
              left: pct(range.start),
              width: pct(range.end - range.start),
              top: `${top(range.first)}px`,
              height: `${top(range.last) - top(range.first) + 27}px`,
            }"
          />
          <span :class="tag" :style="{ left: pct(range.start), top: `${top(range.first)}px` }">{{
            clock(range.start)
          }}</span>
          <span :class="tag" :style="{ left: pct(range.end), top: `${top(range.first)}px` }">{{
            clock(range.end)
          }}</span>
        </template>
        <template v-else-if="focused && !readonly">
          <span
            class="pointer-events-none absolute h-[27px] w-0.5 bg-ink"
            :style="{ left: pct(cursor.minute), top: `${top(cursor.line)}px` }"
          />
          <span :class="tag" :style="{ left: pct(cursor.minute), top: `${top(cursor.line)}px` }">{{
            clock(cursor.minute)
          }}</span>
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.flag {
  clip-path: polygon(0 0, 100% 50%, 0 100%);
}
</style>
