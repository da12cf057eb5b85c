<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { client } from '../../core/query'
import { usePreview } from '../../ui/usePreview'
import { useAttempt } from '../../ui/attempt'
import HoldButton from './HoldButton.vue'
import OrderTold from './OrderTold.vue'

/** What an operator does with doors by hand, now: said before it is done, with what each controller answered. */
const props = defineProps<{ targets: Schemas['Target'][] }>()
type Order = Schemas['OrderAsked']
const { attempt, busy, problem } = useAttempt()
const doing = ref('')
const until = ref('')
const why = ref('')
const answer = ref<Schemas['OrderAnswer']>()
const deeds = [
  { key: 'release', name: 'Release once', order: { what: 'release' } },
  { key: 'free', name: 'Hold free …', order: { what: 'hold', mode: 'free' } },
  { key: 'barred', name: 'Hold barred …', order: { what: 'hold', mode: 'barred' } },
  { key: 'lockdown', name: 'Lockdown …', order: { what: 'lockdown' } },
  { key: 'back', name: 'Back to plan', order: { what: 'back' } },
  { key: 'end', name: 'End lockdown', order: { what: 'end lockdown' } },
] as { key: string; name: string; order: Omit<Order, 'targets'> }[]
const deed = computed(() => deeds.find((d) => d.key === doing.value))
const holds = computed(() => deed.value?.order.what === 'hold')
const order = computed<Order | undefined>(() =>
  deed.value && props.targets.length
    ? {
        ...deed.value.order,
        targets: props.targets,
        ...(holds.value && until.value ? { until: until.value } : {}),
        ...(why.value.trim() ? { why: why.value.trim() } : {}),
      }
    : undefined,
)
/** What it would do. Why is not asked for until it is done. */
const before = usePreview(
  () => order.value && { ...order.value, why: order.value.why ?? '…', until: '' },
  (body, signal) => ask(api.POST('/api/orders', { body: { ...body, preview: true }, signal })),
)
const done = () => {
  doing.value = until.value = why.value = ''
  void client.invalidateQueries({ queryKey: ['computed'] })
}
const give = () =>
  attempt(async () => {
    answer.value = await ask(api.POST('/api/orders', { body: order.value! }))
    done()
  })
watch(
  () => JSON.stringify(props.targets),
  () => (answer.value = undefined),
)
</script>

<template>
  <section class="card" aria-label="By hand">
    <div class="card-head">
      <h2>By hand</h2>
      <span class="note">now, whatever the plan says</span>
    </div>
    <div class="flex flex-wrap gap-2 px-3.5 py-2.5">
      <button
        v-for="d in deeds"
        :key="d.key"
        type="button"
        class="btn px-2.5 py-1"
        :class="doing === d.key ? 'outline-2 outline-ink' : ''"
        :aria-pressed="doing === d.key"
        :disabled="!targets.length || busy"
        @click="((doing = doing === d.key ? '' : d.key), (answer = undefined), (problem = ''))"
      >
        {{ d.name }}
      </button>
    </div>
    <div v-if="deed" class="space-y-2.5 border-t border-seam px-3.5 py-2.5 text-[13.5px]">
      <p class="text-[14px] font-semibold" role="status" aria-label="What it does">{{ before?.words ?? '…' }}</p>
      <p v-if="before?.left.length" class="note">
        Left out, as their sheets say: {{ before.left.map((d) => d.name).join(', ') }}
      </p>
      <div class="flex flex-wrap items-end gap-3">
        <label v-if="holds" class="block"
          ><span class="label block">Until · empty: until it is ended</span
          ><input v-model="until" type="datetime-local" class="field w-56!" aria-label="Until"
        /></label>
        <label class="block min-w-48 flex-1"
          ><span class="label block">Why</span
          ><input
            v-model="why"
            class="field"
            maxlength="120"
            aria-label="Why"
            placeholder="a delivery, smoke in the yard"
        /></label>
        <HoldButton v-if="deed.key === 'lockdown'" :disabled="busy" @held="give">Hold to lock down</HoldButton>
        <button v-else type="button" class="btn btn-amber px-3 py-1" :disabled="busy" @click="give">
          {{ deed.name.replace(' …', '') }} now
        </button>
      </div>
      <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
    </div>
    <OrderTold v-if="answer" :answer="answer" />
  </section>
</template>
