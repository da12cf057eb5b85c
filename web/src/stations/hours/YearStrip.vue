<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'

/** A year as a strip of days, tinted by holiday type; higher ranks stand taller. */
const props = defineProps<{
  year: number
  days: Schemas['YearDay'][]
  tint: (id: number) => string
  height: (id: number) => string
  today?: string
  label?: string
}>()
const emit = defineEmits<{ pick: [date: string] }>()
const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const byDate = computed(() => new Map(props.days.map((d) => [d.date, d])))
const pad = (n: number) => String(n).padStart(2, '0')
/** A month: its days, which of them have holidays, and where its weekends lie. */
const months = computed(() =>
  names.map((name, m) => {
    const first = `${props.year}-${pad(m + 1)}-01`
    const length = new Date(Date.UTC(props.year, m + 1, 0)).getUTCDate()
    const date = (i: number) => `${first.slice(0, 8)}${pad(i + 1)}`
    const lead = (new Date(`${first}T00:00:00Z`).getUTCDay() + 6) % 7
    const weekend = Array.from({ length }, (_, i) => i).filter((i) => (lead + i) % 7 > 4)
    const marks = Array.from({ length }, (_, i) => ({ i, date: date(i), day: byDate.value.get(date(i)) })).filter(
      (x) => x.day,
    )
    return { name, length, date, marks, tint: stripes(weekend, length) }
  }),
)
/** The weekends of a month as a gradient: one element instead of one a day. */
function stripes(weekend: number[], length: number): string {
  const pct = (n: number) => `${((n / length) * 100).toFixed(2)}%`
  const stops = weekend.flatMap((i) => [
    `transparent ${pct(i)}`,
    `var(--color-seam) ${pct(i)}`,
    `var(--color-seam) ${pct(i + 1)}`,
    `transparent ${pct(i + 1)}`,
  ])
  return `linear-gradient(90deg, ${stops.join(', ')})`
}
function dateAt(e: MouseEvent, m: { length: number; date: (i: number) => string }): string {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  return m.date(Math.max(0, Math.min(m.length - 1, Math.floor(((e.clientX - box.left) / box.width) * m.length))))
}
const left = (i: number, length: number) => `${(i / length) * 100}%`
const at = ref(props.today ?? `${props.year}-01-01`)
const spoken = (date: string) => {
  const d = byDate.value.get(date)
  const day = new Date(`${date}T00:00:00Z`).toLocaleDateString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'long',
    timeZone: 'UTC',
  })
  return d ? `${day}: ${d.holidays.map((h) => `${h.name} (${h.type})`).join(', ')}` : day
}
function key(e: KeyboardEvent) {
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 7, ArrowUp: -7 }[e.key]
  if (e.key === 'Enter') emit('pick', at.value)
  else if (step) {
    const d = new Date(`${at.value}T00:00:00Z`)
    d.setUTCDate(d.getUTCDate() + step)
    if (d.getUTCFullYear() === props.year) at.value = d.toISOString().slice(0, 10)
  } else return
  e.preventDefault()
}
const focused = ref(false)
const shown = ref('')
</script>

<template>
  <div class="px-3.5 py-2.5">
    <div class="mb-1 flex items-baseline justify-between gap-3 text-[12.5px]">
      <b>{{ label }}</b><span class="note text-[12px]">{{ shown || (focused ? spoken(at) : '') }}</span>
    </div>
    <ul class="sr-only" :aria-label="`Holidays, ${label ?? year}`">
      <li v-for="d in days" :key="d.date">{{ spoken(d.date) }}</li>
    </ul>
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- an application has keys of its own -->
    <div
      class="flex gap-1.5"
      tabindex="0"
      role="application"
      :aria-label="`${label ?? ''} ${year}. ${spoken(at)}. Arrows move by days and weeks, Enter opens the day.`"
      @keydown="key"
      @focus="focused = true"
      @blur="focused = false"
    >
      <div v-for="(m, k) in months" :key="m.name" class="min-w-0 flex-1" aria-hidden="true">
        <p class="font-mono text-[11px] text-ash">{{ m.name }}</p>
        <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions, vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/mouse-events-have-key-events -- the strip around it has the keys -->
        <div
          class="relative h-7 cursor-pointer"
          :title="shown"
          @click="emit('pick', dateAt($event, m))"
          @mousemove="shown = spoken(dateAt($event, m))"
          @mouseleave="shown = ''"
        >
          <span class="absolute inset-x-0 bottom-0 h-[45%] bg-seam/45" :style="{ backgroundImage: m.tint }" />
          <span
            v-for="x in m.marks"
            :key="x.date"
            class="absolute bottom-0 min-w-[3px] forced-color-adjust-none"
            :class="tint(x.day!.holidays[0]!.typeId)"
            :data-date="x.date"
            :style="{ left: left(x.i, m.length), width: left(1, m.length), height: height(x.day!.holidays[0]!.typeId) }"
          />
          <span
            v-if="today?.startsWith(m.date(0).slice(0, 8))"
            class="absolute -top-0.5 bottom-0 w-[2px] bg-wine"
            :style="{ left: left(Number(today.slice(8)) - 1, m.length) }"
          />
          <span
            v-if="focused && Number(at.slice(5, 7)) === k + 1"
            class="absolute -inset-y-1 rounded-sm outline-2 outline-ink"
            :style="{ left: left(Number(at.slice(8)) - 1, m.length), width: left(1, m.length) }"
          />
        </div>
      </div>
    </div>
  </div>
</template>
