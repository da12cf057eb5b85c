<script setup lang="ts">
import { onScopeDispose, ref } from 'vue'
import { useTimeoutFn } from '@vueuse/core'
import { useKeys } from '../../core/keys'
import { listen } from '../../core/live'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** Takes the next unknown card at a chosen reader as this person's. It ends with Esc, and by itself. */
const emit = defineEmits<{
  took: [c: { format: string; value: string; words: string; door: string }]
}>()
const door = ref(Number(localStorage.getItem('enrolment door') ?? 0))
const listening = ref(false)
const seconds = 60
const heard = ref('')
const ends = useTimeoutFn(() => (listening.value = false), seconds * 1000, { immediate: false })

function begin() {
  if (listening.value) return stop()
  if (!door.value) return
  localStorage.setItem('enrolment door', String(door.value))
  listening.value = true
  heard.value = ''
  ends.start()
}
function stop() {
  listening.value = false
  ends.stop()
}
onScopeDispose(
  listen((n) => {
    if (!listening.value || n.type !== 'event' || n.event.doorId !== door.value) return
    const e = n.event
    if (e.reason !== 'card-unknown' || !e.value || !e.format) {
      // Something else was presented: whoever waits should know why it is not taken.
      if (e.personId) heard.value = `That card is ${e.person}’s already.`
      else if (e.outcome === 'refused') heard.value = `${e.headline}. ${e.mend}`
      return
    }
    stop()
    emit('took', {
      format: e.format,
      value: e.value,
      words: n.event.detail.slice(5),
      door: n.event.door,
    })
  }),
)
useKeys('Enrolment', [{ keys: 'Escape', what: 'End waiting for a card', run: stop, typing: true }])
</script>

<template>
  <span class="flex items-center gap-2">
    <ObjectPicker
      v-model="door"
      kind="door"
      class="w-48"
      label="Reader at which the card is presented"
      placeholder="Reader at door …"
      :disabled="listening"
    />
    <button
      type="button"
      class="btn px-2.5 py-1"
      :class="listening ? 'btn-amber animate-pulse' : ''"
      :disabled="!door"
      :title="listening ? 'Esc ends it; it ends by itself after a minute' : 'The next unknown card at this reader'"
      @click="begin"
    >
      {{ listening ? 'Waiting for a card …' : 'Present a card' }}
    </button>
    <span class="sr-only" role="status">{{
      listening ? 'Waiting for a card at the chosen reader, for one minute.' : ''
    }}</span><span v-if="listening && heard" role="status" class="max-w-64 text-[12px] font-semibold text-wine">{{
      heard
    }}</span>
  </span>
</template>
