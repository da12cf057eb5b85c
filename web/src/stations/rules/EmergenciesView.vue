<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import HoldButton from '../../domain/rule/HoldButton.vue'
import OrderTold from '../../domain/rule/OrderTold.vue'
import { useAttempt } from '../../ui/attempt'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { many } from '../../words'
import RulesTabs from './RulesTabs.vue'

type Now = Schemas['EmergencyNow']
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const query = useComputed(
  'emergencies now',
  () => [],
  (signal) => ask(api.GET('/api/emergencies-now', { signal })),
)
const list = computed<Now[] | undefined>(() => query.data.value)
const answers = reactive<Record<number, Schemas['OrderAnswer']>>({})
const why = ref('')
const order = (x: Now, on: boolean) =>
  attempt(async () => {
    const what = (on ? x.order : `end ${x.order}`) as Schemas['OrderAsked']['what']
    answers[x.id] = await ask(
      api.POST('/api/orders', {
        body: { what, emergency: x.id, ...(why.value.trim() ? { why: why.value.trim() } : {}) },
      }),
    )
    why.value = ''
    await query.refetch()
  })
/** Where one is on is asked anew when a door says so. */
watch(
  () =>
    site
      .overview!.sites.flatMap((s) => s.floors.flatMap((f) => f.doors.map((d) => (d.hand ? `${d.id} ${d.hand}` : ''))))
      .join(),
  () => void query.refetch(),
)
const state = (x: Now) => {
  if (x.off) return 'not in use'
  if (!x.on.length) return x.unknown.length ? `off; ${many(x.unknown.length, 'door', 'doors')} not known` : 'off'
  return `on at ${x.on.length} of ${many(x.doors.length, 'door', 'doors')}`
}
</script>

<template>
  <SheetFrame
    title="Lockdown and fire"
    under="Made ready before they are needed: for which doors, who starts and who ends them"
  >
    <template #actions
      ><RouterLink class="btn" to="/rules/emergencies/new?does=fire">New fire release</RouterLink
      ><RouterLink class="btn btn-amber" to="/rules/emergencies/new">New lockdown</RouterLink></template
    >
    <RulesTabs />
    <StateBox
      v-if="!list"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <p v-else-if="!list.length" class="card p-3.5 text-[13.5px] text-ash">
      None yet. Make a lockdown ready: choose its doors, who may still come in, and whether a card or a button starts it
      too. Any doors can be locked down by hand meanwhile, in
      <RouterLink class="underline" to="/rules/hand">By hand</RouterLink>.
    </p>
    <template v-else>
      <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
      <section
        v-for="x in list"
        :key="x.id"
        class="card mb-3"
        :class="x.on.length ? 'border-violet' : ''"
        :aria-label="x.name"
      >
        <div class="card-head">
          <h2>
            <RouterLink class="underline" :to="`/rules/emergencies/${x.id}`">{{ x.name }}</RouterLink>
          </h2>
          <span :class="x.on.length ? 'font-semibold text-violet' : 'note'" role="status"
            >{{ x.does }}: {{ state(x) }}</span
          >
        </div>
        <p class="px-3.5 py-2 text-[13.5px] leading-relaxed">{{ x.words }}</p>
        <p v-if="x.unknown.length" class="px-3.5 pb-2 text-[13px] font-semibold text-wine">
          Cannot be reached now: {{ x.unknown.map((d) => d.name).join(', ') }}. They are told on their return, unless it
          has ended by then.
        </p>
        <div v-if="!x.off" class="flex flex-wrap items-center gap-2 px-3.5 pb-3">
          <HoldButton v-if="x.on.length < x.doors.length - x.unknown.length" :disabled="busy" @held="order(x, true)">
            Hold to start {{ x.name }}</HoldButton
          >
          <button
            v-if="x.on.length || x.unknown.length"
            type="button"
            class="btn px-3 py-1 font-semibold"
            :disabled="busy"
            @click="order(x, false)"
          >
            End {{ x.name }}
          </button>
          <label v-if="!x.on.length" class="min-w-48 flex-1"
            ><input
              v-model="why"
              class="field"
              maxlength="120"
              :aria-label="`Why ${x.name}`"
              placeholder="Why (kept in history)"
          /></label>
        </div>
        <OrderTold v-if="answers[x.id]" :answer="answers[x.id]!" />
      </section>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Hold</b> the button for a moment: no slip locks a house down.</p>
        <p>Both go on until somebody ends them on purpose; a restart or a cut network ends nothing.</p>
        <p>Fire release is above every lockdown. Ways out always work.</p>
      </div>
    </template>
  </SheetFrame>
</template>
