<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import { duration } from '../../words'
import HoursText from '../hours/HoursText.vue'
import WeekPainter from '../hours/WeekPainter.vue'
import { useLines } from '../hours/useEditor'
import type { Piece, Row } from '../hours/week'
import type { FirstDoors } from './first'

/** When the cards work: at all hours, or in hours that are typed or painted. */
const props = defineProps<{ all: FirstDoors }>()
const { first } = props.all
const schedule = ref<Schemas['Schedule'] | undefined>(first.value.schedule)
const text = ref('')
const unread = ref('')
const minutes = ref(0)
const none = ref<Schemas['HolidayType'][]>([])
const { lines, at } = useLines(
  schedule as never,
  none,
  () => '',
  () => true,
)
async function change(s: Omit<Parameters<typeof body>[0], never>) {
  try {
    const shown = await ask(api.POST('/api/hours/schedule', { body: body(s) }))
    schedule.value = { ...shown.schedule, name: first.value.schedule.name }
    first.value.schedule = schedule.value
    minutes.value = shown.minutes
    if (s.do !== 'text') text.value = shown.text
    unread.value = ''
  } catch (e) {
    unread.value = whatIsWrong(e)
  }
}
type Stroke = {
  do: 'show' | 'text' | 'paint'
  text?: string
  rows?: Row[]
  period?: { start: number; end: number }
  open?: boolean
  was?: { start: number; end: number }
}
const body = (s: Stroke) => ({ schedule: first.value.schedule, ...s })
const paint = (rows: Row[], p: { start: number; end: number }, open: boolean) =>
  change({ do: 'paint', rows: rows.map((r) => ({ ...r })), period: { start: p.start, end: p.end }, open })
const stretch = (row: Row, was: Piece, to: { start: number; end: number }) =>
  change({
    do: 'paint',
    rows: [{ ...row }],
    was: { start: was.start, end: was.end },
    period: { start: to.start, end: to.end },
    open: true,
  })
watch(
  () => first.value.when,
  (w) => w === 'hours' && void change({ do: 'show' }),
  { immediate: true },
)
</script>

<template>
  <section class="card p-3.5" aria-label="When">
    <fieldset class="flex gap-6">
      <legend class="sr-only">When cards work</legend>
      <label class="flex items-center gap-1.5"
        ><input v-model="first.when" type="radio" value="always" name="when" autofocus /> at all hours</label
      >
      <label class="flex items-center gap-1.5"
        ><input v-model="first.when" type="radio" value="hours" name="when" /> in hours that I type or paint</label
      >
    </fieldset>
    <p v-if="first.when === 'always'" class="note mt-2">
      Every card opens every door, day and night. A finding says so until you narrow it.
    </p>
  </section>
  <div v-if="first.when === 'hours'">
    <HoursText
      v-model="text"
      :unread="unread"
      placeholder="Mo-Fr 08:00-18:00; Sa 10:00-16:00"
      @typed="change({ do: 'text', text })"
    >
      <b class="text-[13px]">{{ duration(minutes) }} a week</b>
    </HoursText>
    <WeekPainter
      :lines="lines"
      brush="mode-free"
      @stroke="(r, p) => paint(r, p, true)"
      @wipe="(r, p) => paint(r, p, false)"
      @stretch="stretch"
      @at="(i) => (at = i)"
    >
      <template #label="{ line }"
        ><span class="px-2 text-[13px] font-semibold">{{ line.label }}</span></template
      >
    </WeekPainter>
  </div>
</template>
