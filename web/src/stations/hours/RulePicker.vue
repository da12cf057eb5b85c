<script setup lang="ts">
import ChoiceBar from '../../ui/ChoiceBar.vue'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { days } from '../../words'

/** A recurrence built by clicks. */
const rule = defineModel<Schemas['RuleParts']>({ required: true })
const props = defineProps<{ from: string; problem?: string }>()
const every = ['once', 'day', 'week', 'month', 'year'] as const
const start = computed(() => new Date(`${props.from.slice(0, 10)}T00:00:00Z`))
const weekday = computed(() => (start.value.getUTCDay() + 6) % 7)
const nth = computed(() => Math.floor((start.value.getUTCDate() - 1) / 7) + 1)
const empty = { byDay: [], byMonthDay: [], byMonth: [], bySetPos: [] }
function set(e: (typeof every)[number]) {
  const r = { ...rule.value, ...empty, every: e, interval: rule.value.interval || 1 }
  rule.value = e === 'week' ? { ...r, byDay: [{ n: 0, weekday: weekday.value }] } : r
}
function toggle(d: number) {
  const on = rule.value.byDay.some((x) => x.weekday === d)
  const byDay = on
    ? rule.value.byDay.filter((x) => x.weekday !== d)
    : [...rule.value.byDay, { n: 0, weekday: d }].sort((a, b) => a.weekday - b.weekday)
  rule.value = { ...rule.value, byDay }
}
const monthly = computed({
  get: () =>
    rule.value.byDay.length
      ? rule.value.byDay[0]!.n === -1
        ? 'last'
        : 'nth'
      : rule.value.byMonthDay[0] === -1
        ? 'end'
        : 'day',
  set: (how: string) => {
    const n = how === 'last' ? -1 : nth.value
    rule.value = {
      ...rule.value,
      ...empty,
      byMonth: rule.value.byMonth,
      ...(how === 'day' ? {} : how === 'end' ? { byMonthDay: [-1] } : { byDay: [{ n, weekday: weekday.value }] }),
    }
  },
})
const ends = computed({
  get: () => (rule.value.count ? 'count' : rule.value.until ? 'until' : 'never'),
  set: (how: string) => {
    rule.value = {
      ...rule.value,
      count: how === 'count' ? 10 : 0,
      until: how === 'until' ? props.from.slice(0, 10) : '',
    }
  },
})
const part = <K extends 'interval' | 'count' | 'until'>(k: K) =>
  computed({
    get: () => rule.value[k],
    set: (v) => {
      rule.value = { ...rule.value, [k]: k === 'until' ? v : Number(v) }
    },
  })
const count = part('count')
const until = part('until')
const interval = computed({
  get: () => rule.value.interval || 1,
  set: (n) => {
    rule.value = { ...rule.value, interval: Number(n) }
  },
})
const long = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const ordinal = ['', 'first', 'second', 'third', 'fourth', 'fifth']
</script>

<template>
  <div class="space-y-2">
    <ChoiceBar
      :model-value="rule.every"
      label="How often"
      :choices="every.map((e) => ({ value: e, name: e === 'once' ? 'once' : `every ${e}` }))"
      @update:model-value="set"
    />
    <div v-if="rule.every === 'week'" class="flex gap-1.5" role="group" aria-label="Weekdays">
      <button
        v-for="(d, i) in days"
        :key="d"
        type="button"
        class="btn px-2.5"
        :aria-pressed="rule.byDay.some((x) => x.weekday === i)"
        :class="rule.byDay.some((x) => x.weekday === i) ? 'bg-basalt-2! text-paper' : ''"
        @click="toggle(i)"
      >
        {{ d }}
      </button>
    </div>
    <div v-if="rule.every !== 'once'" class="flex flex-wrap items-center gap-2">
      <label class="flex items-center gap-1.5"
        >every
        <input
          v-model.lazy.number="interval"
          type="number"
          min="1"
          max="99"
          class="field w-16! font-mono"
          aria-label="Interval"
        />
        {{ rule.every }}s</label
      >
      <select v-if="rule.every === 'month'" v-model="monthly" class="field w-auto!" aria-label="Which day of the month">
        <option value="day">on day {{ start.getUTCDate() }}</option>
        <option value="nth">on the {{ ordinal[nth] }} {{ long[weekday] }}</option>
        <option value="last">on the last {{ long[weekday] }}</option>
        <option value="end">on the last day</option>
      </select>
      <select v-model="ends" class="field w-auto!" aria-label="Ends">
        <option value="never">without end</option>
        <option value="count">so many times</option>
        <option value="until">until a date</option>
      </select>
      <input
        v-if="rule.count"
        v-model.lazy.number="count"
        type="number"
        min="1"
        max="500"
        class="field w-20! font-mono"
        aria-label="How many times"
      />
      <input v-if="rule.until" v-model.lazy="until" class="field w-32! font-mono" aria-label="Last date" />
    </div>
    <p v-if="problem" class="text-[12px] font-semibold text-wine">{{ problem }}</p>
  </div>
</template>
