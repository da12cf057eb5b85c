<script setup lang="ts">
import { computed, ref } from 'vue'
import { addDays, readDay } from '../../dates'
import { useSite } from '../../core/site'
import ModeLegend from '../../ui/ModeLegend.vue'
import RealWeek from '../../ui/RealWeek.vue'
import StateBox from '../../ui/StateBox.vue'
import type { DoorHere } from './useDoor'

/** The real week of a door, at the date and the moment that are looked at. */
const props = defineProps<{ door: DoorHere }>()
const { sheet, week, moment, looked } = props.door
const site = useSite()
const jump = ref('')
const lost = ref('')

/** Goes to the week of a date, and looks at that moment where a time is written too. */
function go() {
  const [text, time] = /^(.*?)(?:[ T]+(\d{1,2}:\d\d))?$/.exec(jump.value.trim())!.slice(1)
  const day = readDay(text ?? '', site.today())
  if (!day) {
    lost.value = 'Write a date as 2026-12-25, 25 Dec or Fri, or with a time: 2026-12-25 10:30.'
    return
  }
  lost.value = ''
  week.value = day
  moment.value = time ? `${day}T${time.padStart(5, '0')}` : moment.value
}
function now() {
  week.value = moment.value = jump.value = lost.value = ''
}
const weekWords = computed(() => {
  const days = sheet.value?.week ?? []
  if (!days.length || days.some((d) => d.date === sheet.value!.today)) return 'This week at this door'
  const day = (s: string, o: Intl.DateTimeFormatOptions) =>
    new Date(`${s}T00:00:00Z`).toLocaleDateString('en-GB', { ...o, timeZone: 'UTC' })
  return `${day(days[0]!.date, { day: 'numeric', month: 'short' })} – ${day(days[6]!.date, { day: 'numeric', month: 'short', year: 'numeric' })}`
})
const used = computed(() => [...new Set((sheet.value?.week ?? []).flatMap((d) => d.marks.map((m) => m.mode)))])
const waits = computed(() => sheet.value?.week.some((d) => d.marks.some((m) => m.first)) ?? false)
const changed = computed(() => sheet.value?.week.some((d) => d.marks.some((m) => m.change)) ?? false)
const step = (by: number) => (week.value = addDays(sheet.value!.week[0]!.date, by))
</script>

<template>
  <StateBox
    v-if="!sheet"
    :loading="looked.isPending.value"
    :error="looked.error.value"
    :again="() => looked.refetch()"
    :rows="9"
  />
  <section v-else class="card">
    <div class="card-head max-xl:flex-wrap">
      <h2 class="shrink-0">{{ weekWords }}</h2>
      <ModeLegend class="flex-1" :modes="used" :first="waits" :change="changed" />
      <form class="flex shrink-0 items-center gap-1" @submit.prevent="go">
        <input
          v-model="jump"
          class="field w-[142px]! px-2 py-0.5 font-mono text-[12.5px]"
          placeholder="2026-12-25 10:30"
          aria-label="Go to a date"
          :aria-invalid="!!lost || undefined"
          :aria-describedby="lost ? 'lost' : undefined"
        /><button type="button" class="btn px-2 py-0.5" aria-label="Week before" @click="step(-7)">‹</button
        ><button type="button" class="btn px-2 py-0.5" :disabled="!week && !moment" @click="now">Now</button
        ><button type="button" class="btn px-2 py-0.5" aria-label="Week after" @click="step(7)">›</button>
      </form>
    </div>
    <p v-if="lost" id="lost" role="alert" class="px-3.5 pt-2 text-[13px] font-semibold text-wine">{{ lost }}</p>
    <p v-else-if="moment && sheet.odd" role="status" class="px-3.5 pt-2 text-[13px] text-wine">{{ sheet.odd }}.</p>
    <RealWeek
      :week="sheet.week"
      :today="sheet.today"
      :minute="sheet.minute"
      :chosen="moment"
      @pick="(at) => (moment = at)"
    />
  </section>
</template>
