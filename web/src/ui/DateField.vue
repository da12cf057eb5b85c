<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { CalendarDays, ChevronLeft, ChevronRight } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { useSite } from '../core/site'
import { style } from '../clock'
import { addDays, days, monthGrid, readDay, wordedDay } from '../dates'

/** A date, typed in any of the usual ways or picked; it is kept as 2006-01-02, and empty is none. */
const props = defineProps<{
  label: string
  id?: string
  invalid?: boolean
  describedby?: string
  placeholder?: string
}>()
const day = defineModel<string | undefined>({ required: true })
const site = useSite()
const typed = ref(day.value ?? '')
const unread = ref(false)
watch(day, (d) => {
  if ((d ?? '') !== readDay(typed.value, site.today())) typed.value = d ?? ''
})
function take() {
  const text = typed.value.trim()
  const read = text ? readDay(text, site.today()) : ''
  unread.value = read === undefined
  // What is no date is written all the same, so that saving says what is wrong with it; nothing stays no date at all.
  const next = (read ?? text) || undefined
  if (next !== (day.value || undefined)) day.value = next
  if (read) typed.value = read
}
const month = ref('')
const shown = computed(() => month.value || (readDay(day.value ?? '', site.today()) ?? site.today()).slice(0, 7))
const grid = computed(() => monthGrid(shown.value, style.value.fromSunday))
const turn = (by: number) => {
  const [y, m] = shown.value.split('-').map(Number) as [number, number]
  month.value = new Date(Date.UTC(y, m - 1 + by, 1)).toISOString().slice(0, 7)
}
const cursor = ref('')
function pick(d: string, close: () => void) {
  typed.value = d
  day.value = d
  unread.value = false
  close()
}
function key(e: KeyboardEvent, close: () => void) {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[e.key]
  const at = cursor.value || day.value || site.today()
  if (by !== undefined) {
    cursor.value = addDays(readDay(at, site.today()) ?? site.today(), by)
    month.value = cursor.value.slice(0, 7)
  } else if (e.key === 'PageUp' || e.key === 'PageDown') turn(e.key === 'PageUp' ? -1 : 1)
  else if (e.key === 'Enter' || e.key === ' ') pick(at, close)
  else return
  e.preventDefault()
  e.stopPropagation()
}
defineExpose({ take })
const wrong = computed(() => props.invalid || unread.value)
</script>

<template>
  <span class="relative inline-flex items-center">
    <input
      :id="id"
      v-model="typed"
      class="field w-[118px]! pr-7 font-mono text-[13px]"
      :placeholder="placeholder ?? 'any day'"
      :aria-label="label"
      :aria-invalid="wrong || undefined"
      :aria-describedby="describedby"
      :title="wordedDay(day ?? '')"
      autocomplete="off"
      @change="take"
      @blur="take"
    />
    <Popover v-slot="{ close }" class="absolute right-0.5">
      <PopoverButton
        class="grid size-[24px] place-items-center rounded text-ash hover:text-ink"
        :aria-label="`Pick: ${label}`"
        @click="((month = ''), (cursor = ''))"
        ><CalendarDays class="size-3.5"
      /></PopoverButton>
      <PopoverPanel
        focus
        class="absolute right-0 z-30 mt-1 w-[248px] rounded-lg border border-seam bg-paper p-2 shadow-lg"
        @keydown="key($event, close)"
      >
        <div class="flex items-center justify-between">
          <button type="button" class="btn size-7 p-0" aria-label="Month before" @click="turn(-1)">
            <ChevronLeft class="size-4" />
          </button>
          <b aria-live="polite">{{ grid.title }}</b>
          <button type="button" class="btn size-7 p-0" aria-label="Next month" @click="turn(1)">
            <ChevronRight class="size-4" />
          </button>
        </div>
        <table class="mt-1 w-full text-center text-[13px]" :aria-label="grid.title">
          <thead>
            <tr>
              <th
                v-for="d in style.fromSunday ? [days[6]!, ...days.slice(0, 6)] : days"
                :key="d"
                class="py-1 text-[11px] font-semibold text-ash"
                scope="col"
              >
                {{ d.slice(0, 2) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="w in grid.weeks" :key="w[0]">
              <td v-for="d in w" :key="d" class="p-px">
                <button
                  type="button"
                  class="h-7 w-full rounded hover:bg-lime"
                  :class="[
                    d === (cursor || day) ? 'bg-mode-card font-bold' : '',
                    d.slice(0, 7) !== shown ? 'text-ash' : '',
                    d === site.today() ? 'underline' : '',
                  ]"
                  :aria-label="wordedDay(d)"
                  :aria-pressed="d === day"
                  :tabindex="d === (cursor || day || site.today()) ? 0 : -1"
                  @click="pick(d, close)"
                >
                  {{ Number(d.slice(8)) }}
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </PopoverPanel>
    </Popover>
  </span>
</template>
