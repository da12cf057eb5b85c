<script setup lang="ts">
import { ref, watch } from 'vue'
import { clock, clock24, readTime, style } from '../clock'

/** A time of the day, typed as people do and shown in the clock of the site; it is kept as 18:30. */
const props = defineProps<{ label: string; id?: string; invalid?: boolean; describedby?: string }>()
const time = defineModel<string>({ required: true })
const shown = (t: string) => {
  const m = readTime(t)
  return m === undefined ? t : clock(m)
}
const typed = ref(shown(time.value))
watch([time, style], () => {
  if (readTime(typed.value) !== readTime(time.value) || readTime(time.value) === undefined)
    typed.value = shown(time.value)
})
function take() {
  const m = readTime(typed.value)
  // What is no time is written all the same, so that saving says what is wrong with it.
  const next = m === undefined ? typed.value.trim() : clock24(m)
  if (next !== time.value) time.value = next
  if (m !== undefined) typed.value = clock(m)
}
</script>

<template>
  <input
    :id="id"
    v-model="typed"
    class="field px-2 font-mono text-[13px]"
    :class="style.twelveHour ? 'w-[88px]!' : 'w-[58px]!'"
    :aria-label="props.label"
    :aria-invalid="invalid || undefined"
    :aria-describedby="describedby"
    autocomplete="off"
    @change="take"
  />
</template>
