<script setup lang="ts">
import { computed, ref } from 'vue'
import { clock, days, modeClass } from '../../words'

type Piece = { start: number; end: number; mode?: string }
type Stroke = { days: number[]; period: { start: number; end: number } }

/** A week to paint on: drag over minutes and days, or arrows and Enter. */
const props = defineProps<{ week: Piece[][]; otherwise?: string; brush: string; readonly?: boolean }>()
const emit = defineEmits<{ stroke: [stroke: Stroke]; wipe: [stroke: Stroke] }>()

const snap = 15
const grid = ref<HTMLElement>()
const cursor = ref({ day: 0, minute: 480 })
const anchor = ref<{ day: number; minute: number }>()
const pressed = ref(false)
const focused = ref(false)
const pct = (m: number) => `${(m / 1440) * 100}%`

/** What is drawn on a day: its own pieces, and the tail of the day before. */
const rows = computed(() =>
  props.week.map((day, d) => [
    ...day.map((p) => ({ from: p.start, to: Math.min(p.end, 1440), mode: p.mode ?? 'open', words: `${clock(p.start)}–${clock(p.end)} ${p.mode ?? 'open'}` })),
    ...props.week[(d + 6) % 7]!.filter((p) => p.end > 1440).map((p) => ({ from: 0, to: p.end - 1440, mode: p.mode ?? 'open', words: `until ${clock(p.end)}, since the day before, ${p.mode ?? 'open'}` })),
  ]),
)
const range = computed(() => {
  const a = anchor.value ?? cursor.value
  const b = cursor.value
  const start = Math.min(a.minute, b.minute)
  const end = Math.max(a.minute, b.minute)
  return { first: Math.min(a.day, b.day), last: Math.max(a.day, b.day), start, end: Math.max(end, start + snap) }
})
const stroke = (): Stroke => ({
  days: Array.from({ length: range.value.last - range.value.first + 1 }, (_, i) => range.value.first + i),
  period: { start: Math.min(range.value.start, 1440 - snap), end: Math.min(range.value.end, 1440) },
})

function spot(e: PointerEvent) {
  const box = grid.value!.getBoundingClientRect()
  const minute = Math.round((((e.clientX - box.left) / box.width) * 1440) / snap) * snap
  return { day: Math.max(0, Math.min(6, Math.floor(((e.clientY - box.top) / box.height) * 7))), minute: Math.max(0, Math.min(1440, minute)) }
}
function down(e: PointerEvent) {
  if (props.readonly || e.button) return
  grid.value!.setPointerCapture(e.pointerId)
  pressed.value = true
  cursor.value = anchor.value = spot(e)
}
function move(e: PointerEvent) {
  if (pressed.value) cursor.value = spot(e)
}
function up() {
  if (!pressed.value) return
  pressed.value = false
  if (anchor.value!.minute !== cursor.value.minute) emit('stroke', stroke())
  anchor.value = undefined
}
function key(e: KeyboardEvent) {
  if (props.readonly || e.ctrlKey || e.metaKey || e.altKey) return
  const step = e.shiftKey ? 60 : snap
  const c = cursor.value
  if (e.key === 'ArrowRight') cursor.value = { ...c, minute: Math.min(1440, c.minute + step) }
  else if (e.key === 'ArrowLeft') cursor.value = { ...c, minute: Math.max(0, c.minute - step) }
  else if (e.key === 'ArrowDown') cursor.value = { ...c, day: Math.min(6, c.day + 1) }
  else if (e.key === 'ArrowUp') cursor.value = { ...c, day: Math.max(0, c.day - 1) }
  else if (e.key === 'Home') cursor.value = { ...c, minute: 0 }
  else if (e.key === 'End') cursor.value = { ...c, minute: 1440 }
  else if (e.key === 'Enter') {
    if (anchor.value) {
      emit('stroke', stroke())
      anchor.value = undefined
    } else anchor.value = { ...c }
  } else if ((e.key === 'Delete' || e.key === 'Backspace') && anchor.value) {
    emit('wipe', stroke())
    anchor.value = undefined
  } else if (e.key === 'Escape') {
    anchor.value = undefined
    pressed.value = false
  } else return
  e.preventDefault()
}
</script>

<template>
  <div class="flex px-3.5 pt-3 pb-3.5">
    <div class="w-12 pt-6"><p v-for="d in days" :key="d" class="mb-1 h-8 pt-1.5 text-[13px] font-semibold">{{ d }}</p></div>
    <div class="min-w-0 flex-1">
      <div class="relative h-6 font-mono text-[11px] text-ash" aria-hidden="true"><span v-for="h in 9" :key="h" class="absolute -translate-x-1/2" :style="{ left: pct((h - 1) * 180) }">{{ String((h - 1) * 3).padStart(2, '0') }}</span></div>
      <div
        ref="grid" class="relative touch-none select-none" :class="readonly ? '' : 'cursor-crosshair'" :tabindex="readonly ? -1 : 0" role="application"
        :aria-label="`Week. ${days[cursor.day]} ${clock(cursor.minute)}. Arrows move, Enter begins and ends a stroke of ${brush}.`"
        @pointerdown="down" @pointermove="move" @pointerup="up" @pointercancel="up" @keydown="key" @focus="focused = true" @blur="focused = false"
      >
        <div v-for="(row, d) in rows" :key="d" class="relative mb-1 h-8 overflow-hidden" :class="otherwise ? modeClass(otherwise) : 'border border-seam bg-lime'" :data-day="days[d]">
          <div v-for="(p, i) in row" :key="i" class="absolute inset-y-0" :class="modeClass(p.mode)" :style="{ left: pct(p.from), width: pct(p.to - p.from) }" :title="p.words" />
          <span v-for="h in 7" :key="h" class="absolute inset-y-0 w-px bg-ash/15" :style="{ left: pct(h * 180) }" />
        </div>
        <template v-if="(pressed || anchor) && !readonly">
          <div
            class="pointer-events-none absolute rounded-sm outline-2 outline-ink" :class="modeClass(brush)"
            :style="{ left: pct(range.start), width: pct(range.end - range.start), top: `${(range.first * 100) / 7}%`, height: `calc(${((range.last - range.first + 1) * 100) / 7}% - 4px)` }"
          />
          <span class="pointer-events-none absolute -translate-x-1/2 -translate-y-full rounded bg-basalt px-1.5 py-0.5 font-mono text-[12px] font-semibold text-paper" :style="{ left: pct(range.start), top: `${(range.first * 100) / 7}%` }">{{ clock(range.start) }}</span>
          <span class="pointer-events-none absolute -translate-x-1/2 -translate-y-full rounded bg-basalt px-1.5 py-0.5 font-mono text-[12px] font-semibold text-paper" :style="{ left: pct(range.end), top: `${(range.first * 100) / 7}%` }">{{ clock(range.end) }}</span>
        </template>
        <template v-else-if="focused && !readonly">
          <span class="pointer-events-none absolute h-8 w-0.5 bg-ink" :style="{ left: pct(cursor.minute), top: `${(cursor.day * 100) / 7}%` }" />
          <span class="pointer-events-none absolute -translate-x-1/2 -translate-y-full rounded bg-basalt px-1.5 py-0.5 font-mono text-[12px] text-paper" :style="{ left: pct(cursor.minute), top: `${(cursor.day * 100) / 7}%` }">{{ clock(cursor.minute) }}</span>
        </template>
      </div>
    </div>
  </div>
</template>
