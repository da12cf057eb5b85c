<script setup lang="ts">
import type { Schemas } from '../api/client'
import { clock, clock24, hourMark } from '../clock'
import { days, modeClass } from '../words'

/** Seven real dates at a door: what it asks, holidays, dated changes, first cards, and now. */
const props = defineProps<{
  week: Schemas['RealDay'][]
  today?: string
  minute?: number
  chosen?: string
  tight?: boolean
}>()
const emit = defineEmits<{ pick: [at: string] }>()
const left = (m: number) => `${(m / 1440) * 100}%`
const marks = [0, 3, 6, 9, 12, 15, 18, 21, 24]
const words = (m: Schemas['Mark']) =>
  `${clock(m.start)}–${clock(m.end)} ${m.mode}${m.first ? ' after a first card' : ''}${m.only ? `, only ${m.only}` : ''}${m.name ? `, ${m.name}` : ''}`
/** A dated change is one box however often the mode under it changes. */
function boxes(d: Schemas['RealDay']) {
  const out: { start: number; end: number; name: string }[] = []
  for (const m of d.marks) {
    if (!m.change) continue
    const last = out.at(-1)
    if (last && last.name === m.name && last.end === m.start) last.end = m.end
    else out.push({ start: m.start, end: m.end, name: m.name })
  }
  return out
}
function spot(e: MouseEvent, date: string) {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  const minute = Math.max(0, Math.min(1435, Math.round((((e.clientX - box.left) / box.width) * 1440) / 5) * 5))
  emit('pick', `${date}T${clock24(minute)}`)
}
const dayOf = (date: string) => days[(new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7]
const chosenMinute = () =>
  props.chosen ? Number(props.chosen.slice(11, 13)) * 60 + Number(props.chosen.slice(14, 16)) : 0
</script>

<template>
  <div class="sr-only">
    <table>
      <caption>
        What the door asks on each day
      </caption>
      <tbody>
        <tr v-for="d in week" :key="d.date">
          <th scope="row">{{ dayOf(d.date) }} {{ d.date }}</th>
          <td>{{ [...d.holidays.map((h) => h.name), ...d.marks.map(words)].join('; ') }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <div aria-hidden="true" class="px-3.5 pt-2" :class="tight ? 'pb-2' : 'pb-3.5'">
    <div class="relative ml-[62px] h-5 font-mono text-[11px] text-ash" aria-hidden="true">
      <span v-for="h in marks" :key="h" class="absolute -translate-x-1/2" :style="{ left: left(h * 60) }">{{
        hourMark(h)
      }}</span>
    </div>
    <div v-for="d in week" :key="d.date" class="mb-1 flex items-center">
      <span
        class="w-[62px] text-[12.5px]"
        :class="d.date === today ? 'font-bold' : 'font-medium'"
        :title="d.clocks || d.date"
        >{{ dayOf(d.date) }} {{ Number(d.date.slice(8)) }}<span v-if="d.clocks" class="text-wine"> ↻</span></span
      >
      <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions, vuejs-accessibility/click-events-have-key-events -- the date field beside the week does the same for keys -->
      <div class="relative flex-1" :class="tight ? 'h-5' : 'h-6'" @click="spot($event, d.date)">
        <div
          v-for="(m, k) in d.marks"
          :key="k"
          class="absolute inset-y-0 border-r border-paper/70 last:border-r-0"
          :class="modeClass(m.mode)"
          :style="{ left: left(m.start), width: left(m.end - m.start) }"
          :title="words(m)"
          :data-mark="words(m)"
        >
          <span v-if="m.first" class="flag absolute inset-y-0 left-0 w-2 bg-kelp" aria-hidden="true" />
          <span v-if="m.only" class="absolute inset-x-0 bottom-0 h-[3px] bg-kelp" aria-hidden="true" />
        </div>
        <div
          v-for="b in boxes(d)"
          :key="`c${b.start}`"
          class="pointer-events-none absolute -inset-y-px overflow-hidden border-2 border-dashed border-violet"
          :style="{ left: left(b.start), width: left(b.end - b.start) }"
        >
          <span
            class="mx-0.5 inline-block max-w-full truncate rounded-sm bg-paper/85 px-0.5 text-[11px] leading-tight font-semibold text-violet"
            >{{ b.name }}</span
          >
        </div>
        <span v-if="d.holidays.length" class="pointer-events-none absolute inset-0 flex items-center justify-center"
          ><span class="rounded-sm bg-paper/85 px-1.5 text-[11px] leading-4 font-semibold">{{
            d.holidays.map((h) => h.name).join(', ')
          }}</span></span
        >
        <div
          v-if="d.date === today && minute !== undefined"
          class="absolute -inset-y-1 w-[2px] bg-wine"
          :style="{ left: left(minute) }"
          title="now"
        >
          <span class="absolute -top-1 -left-[3px] size-2 rounded-full bg-wine" />
        </div>
        <div
          v-if="chosen && d.date === chosen.slice(0, 10)"
          class="pointer-events-none absolute -inset-y-1 w-0 border-l-2 border-dashed border-ink"
          :style="{ left: left(chosenMinute()) }"
          title="the moment looked at"
        />
      </div>
    </div>
    <p v-for="d in week.filter((x) => x.clocks)" :key="`k${d.date}`" class="note ml-[62px] text-[12px]">
      {{ d.date }}: {{ d.clocks }}
    </p>
  </div>
</template>

<style scoped>
.flag {
  clip-path: polygon(0 0, 100% 50%, 0 100%);
}
</style>
