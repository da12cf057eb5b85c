<script setup lang="ts">
import { onScopeDispose, ref } from 'vue'
import { useTimeoutFn } from '@vueuse/core'
import { api, ask } from '../../api/client'
import { useKeys } from '../../core/keys'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/**
 * Takes unknown cards at a chosen reader: the next one, or one after the other. It ends with Esc, and by itself. What is
 * presented there meanwhile raises no alarm.
 */
const props = defineProps<{ many?: boolean }>()
const emit = defineEmits<{
  took: [c: { format: string; value: string; words: string; door: string }]
}>()
const door = ref(Number(localStorage.getItem('enrolment door') ?? 0))
const listening = ref(false)
const seconds = props.many ? 300 : 60
const heard = ref('')
const ends = useTimeoutFn(() => stop(), seconds * 1000, { immediate: false })
/** A reader that is meant for it is the first choice. */
useComputed(
  'enrolment readers',
  () => [],
  async (signal) => {
    const list = await ask(api.GET('/api/enrol', { signal }))
    door.value ||= list.find((r) => r.enrols)?.door ?? 0
    return list
  },
)
const tell = (s: number) =>
  ask(api.POST('/api/enrol', { body: { door: door.value, seconds: s } })).catch(() => undefined)

async function begin() {
  if (listening.value) return stop()
  if (!door.value) return
  localStorage.setItem('enrolment door', String(door.value))
  await tell(seconds)
  listening.value = true
  heard.value = ''
  ends.start()
}
function stop() {
  if (listening.value) void tell(0)
  listening.value = false
  ends.stop()
}
onScopeDispose(stop)
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
    heard.value = ''
    if (props.many) ends.start()
    else stop()
    emit('took', {
      format: e.format,
      value: e.value,
      words: n.event.detail.replace(/^.*card /, ''),
      door: n.event.door,
    })
  }),
)
useKeys('Enrolment', [{ keys: 'Escape', what: 'End waiting for a card', run: stop, typing: true }])
</script>

<template>
  <span class="flex flex-wrap items-center gap-2">
    <ObjectPicker
      v-model="door"
      kind="door"
      class="w-44"
      label="Reader at which the card is presented"
      placeholder="Reader at door …"
      :disabled="listening"
    />
    <button
      type="button"
      class="btn px-2.5 py-1"
      :class="listening ? 'btn-amber animate-pulse' : ''"
      :disabled="!door"
      :title="listening ? 'Esc ends it; it ends by itself' : 'The next unknown card at this reader'"
      @click="begin"
    >
      {{
        listening
          ? many
            ? 'Present one after another … Done'
            : 'Waiting for a card …'
          : many
            ? 'Present cards'
            : 'Present a card'
      }}
    </button>
    <span class="sr-only" role="status">{{ listening ? 'Waiting for a card at the chosen reader.' : '' }}</span><span
      v-if="listening && heard"
      role="status"
      class="max-w-64 text-[12px] font-semibold text-wine"
      >{{ heard }}</span
    >
  </span>
</template>
