<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'

/** A year as a strip of days, tinted by holiday type; higher ranks stand taller. */
const props = defineProps<{ year: number; days: Schemas['YearDay'][]; tint: (id: number) => string; height: (id: number) => string; today?: string; label?: string }>()
const emit = defineEmits<{ pick: [date: string] }>()
const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const byDate = computed(() => new Map(props.days.map((d) => [d.date, d])))
const months = computed(() =>
  names.map((name, m) => ({
    name,
    days: Array.from({ length: new Date(Date.UTC(props.year, m + 1, 0)).getUTCDate() }, (_, i) => {
      const date = `${props.year}-${String(m + 1).padStart(2, '0')}-${String(i + 1).padStart(2, '0')}`
      const weekday = (new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7
      return { date, weekend: weekday > 4, day: byDate.value.get(date) }
    }),
  })),
)
const at = ref(props.today ?? `${props.year}-01-01`)
const spoken = (date: string) => {
  const d = byDate.value.get(date)
  const day = new Date(`${date}T00:00:00Z`).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'long', timeZone: 'UTC' })
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
    <div class="mb-1 flex items-baseline justify-between gap-3 text-[12.5px]"><b>{{ label }}</b><span class="note text-[12px]">{{ shown || (focused ? spoken(at) : '') }}</span></div>
    <div class="flex gap-1.5" tabindex="0" role="application" :aria-label="`${label ?? ''} ${year}. ${spoken(at)}. Arrows move by days and weeks, Enter opens the day.`" @keydown="key" @focus="focused = true" @blur="focused = false">
      <div v-for="m in months" :key="m.name" class="min-w-0 flex-1">
        <p class="font-mono text-[11px] text-ash">{{ m.name }}</p>
        <div class="flex h-7 items-end">
          <button
            v-for="d in m.days" :key="d.date" tabindex="-1" class="relative flex h-full flex-1 items-end px-0" :data-date="d.date" :aria-label="spoken(d.date)" :title="spoken(d.date)"
            @click="emit('pick', d.date)" @mouseenter="shown = spoken(d.date)" @mouseleave="shown = ''"
          >
            <span class="absolute inset-x-0 bottom-0 h-[45%]" :class="d.weekend ? 'bg-seam' : 'bg-seam/45'" />
            <span v-if="d.day" class="absolute bottom-0 -left-[0.5px] w-[calc(100%+1px)] min-w-[3px]" :class="tint(d.day.holidays[0]!.typeId)" :style="{ height: height(d.day.holidays[0]!.typeId) }" />
            <span v-if="d.date === today" class="absolute -top-0.5 bottom-0 left-0 w-[2px] bg-wine" />
            <span v-if="focused && d.date === at" class="absolute -inset-y-1 -inset-x-0.5 rounded-sm outline-2 outline-ink" />
          </button>
        </div>
      </div>
    </div>
  </div>
</template>
