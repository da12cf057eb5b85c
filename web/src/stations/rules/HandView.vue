<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useAll, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import HandOrder from '../../domain/rule/HandOrder.vue'
import { useAttempt } from '../../ui/attempt'
import DoorTree from '../../ui/DoorTree.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import RulesTabs from './RulesTabs.vue'

const route = useRoute()
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const allSets = useAll('door set')
const sets = computed(() => allSets.data.value?.map((v) => v.value) ?? [])
const doors = ref(
  String(route.query.doors ?? '')
    .split(',')
    .map(Number)
    .filter(Boolean),
)
const floors = ref<number[]>([])
const sites = ref<number[]>([])
const setIds = ref<number[]>([])
const targets = computed<Schemas['Target'][]>(() => [
  ...doors.value.map((id) => ({ kind: 'door' as const, id })),
  ...floors.value.map((id) => ({ kind: 'floor' as const, id })),
  ...sites.value.map((id) => ({ kind: 'site' as const, id })),
  ...setIds.value.map((id) => ({ kind: 'door set' as const, id })),
])
const query = useComputed(
  'held',
  () => [],
  (signal) => ask(api.GET('/api/held', { signal })),
)
const held = computed<Schemas['HeldDoor'][] | undefined>(() => query.data.value)
/** What doors are held is asked anew when one begins or ends. */
watch(
  () =>
    site
      .overview!.sites.flatMap((s) => s.floors.flatMap((f) => f.doors.map((d) => (d.hand ? `${d.id} ${d.hand}` : ''))))
      .join(),
  () => void query.refetch(),
)
const ends: Record<string, 'end lockdown' | 'end fire' | 'lift'> = {
  lockdown: 'end lockdown',
  'fire release': 'end fire',
  'keypad locked': 'lift',
  'card locked': 'lift',
}
const end = (h: Schemas['HeldDoor']) =>
  attempt(async () => {
    const what = ends[h.hand] ?? 'back'
    await ask(api.POST('/api/orders', { body: { what, targets: [{ kind: 'door', id: h.id }] } }))
    await query.refetch()
  })
</script>

<template>
  <SheetFrame title="By hand" under="Doors that somebody releases, holds or locks down, whatever the plan says">
    <RulesTabs />
    <StateBox
      v-if="!held"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="4"
    />
    <section v-else class="card mb-3" aria-label="Held now">
      <div class="card-head">
        <h2>Held now</h2>
        <span class="note">{{ held.length || 'nothing: every door follows its plan' }}</span>
      </div>
      <div v-for="h in held" :key="`${h.id} ${h.hand}`" class="row gap-3">
        <span class="min-w-0 flex-1"
          ><RouterLink class="font-semibold underline" :to="`/rules/doors/${h.id}`">{{ h.name }}</RouterLink
          ><span class="note ml-2 text-[12.5px]">{{ h.site }}</span>
          <span class="block text-[13px]"
            ><b class="text-violet">{{ h.hand === 'held' ? `held: ${h.mode}` : h.hand }}</b
            >, {{ h.until
            }}<template v-if="h.by"
              >; by {{ h.by }}<template v-if="h.since">, since {{ h.since }}</template></template
            ></span
          ></span
        >
        <button
          type="button"
          class="btn px-2.5 py-1"
          :disabled="busy"
          :aria-label="`${h.hand.startsWith('held') ? 'Back to plan' : 'End it'}: ${h.name}`"
          @click="end(h)"
        >
          {{ h.hand.startsWith('held') ? 'Back to plan' : 'End it' }}
        </button>
      </div>
      <p v-if="problem" role="alert" class="px-3.5 py-2 font-semibold text-wine">{{ problem }}</p>
    </section>
    <div class="grid grid-cols-[280px_minmax(0,1fr)] items-start gap-3 max-lg:grid-cols-1">
      <section class="card p-3.5" aria-label="Doors">
        <h2 class="mb-2">Doors</h2>
        <DoorTree
          v-model="doors"
          v-model:floors="floors"
          v-model:sites="sites"
          v-model:set-ids="setIds"
          label="Doors for an order"
          places
          class="h-[430px]"
          :sets="sets"
        />
      </section>
      <HandOrder :targets="targets" />
    </div>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Release once</b> lets one person through, for the unlock time. It is over by itself.</p>
        <p><b>Held</b> goes on until its time, or until somebody ends it; a restart or a cut network ends nothing.</p>
        <p>Controllers that do not answer are told on their return, but for a single release.</p>
        <p>Ways out always work. Fire release comes before all of it.</p>
      </div>
    </template>
  </SheetFrame>
</template>
