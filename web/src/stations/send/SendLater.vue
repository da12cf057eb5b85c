<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { inClock } from '../../clock'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import DateField from '../../ui/DateField.vue'
import TimeField from '../../ui/TimeField.vue'

/** A send at a set time: what lacks then is sent by itself. */
const props = defineProps<{ how: { whole: boolean; clocks: boolean; ready: boolean } }>()
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const day = ref<string>()
const time = ref('02:00')
const query = useComputed(
  'send plan',
  () => [],
  (signal) => ask(api.GET('/api/send/plan', { signal })),
)
const plan = computed(() => (query.data.value?.at ? query.data.value : undefined))
const set = (at: string) =>
  attempt(async () => {
    await ask(api.PUT('/api/send/plan', { body: { at, wish: { controllers: [], ...props.how } } }))
    await query.refetch()
  })
/** Tonight is the next such time to come. */
const later = () => {
  const [h, m] = time.value.split(':').map(Number) as [number, number]
  const now = new Date(Date.now() + site.skew)
  const clock = new Intl.DateTimeFormat('en-GB', {
    timeZone: site.zone,
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).format(now)
  const past = clock >= `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`
  const today = site.today()
  const next = new Date(`${today}T00:00:00Z`)
  next.setUTCDate(next.getUTCDate() + (past ? 1 : 0))
  void set(`${day.value || next.toISOString().slice(0, 10)}T${time.value}`)
}
</script>

<template>
  <h2>At a set time</h2>
  <div class="card space-y-2 p-3 text-[13px]">
    <template v-if="plan">
      <p role="status">
        <b>{{ inClock(plan.words) }}</b>: what lacks then is sent by itself. Set by {{ plan.who }}.
      </p>
      <button class="btn px-2 py-0.5" :disabled="busy" @click="set('')">No longer</button>
    </template>
    <form v-else class="flex flex-wrap items-center gap-1.5" @submit.prevent="later">
      <DateField v-model="day" label="Send on the day" placeholder="tonight" /><TimeField
        v-model="time"
        label="Send at the time"
      />
      <button class="btn px-2 py-1" :disabled="busy">Send then</button>
    </form>
    <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
  </div>
</template>
