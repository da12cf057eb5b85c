<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, reactive, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { listen } from '../../core/live'
import { keys, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import TouchedList from '../../ui/TouchedList.vue'
import { dateOf, many, timeOf } from '../../words'
import PendingCard from './PendingCard.vue'
import SendLater from './SendLater.vue'
import SendTabs from './SendTabs.vue'

type Pending = Schemas['Pending']
const site = useSite()
const held = useQueryClient()
const problem = ref('')
const done = ref('')
const busy = ref(false)
const chosen = ref(0)
const zone = site.zone
/** Of more controllers than this, one is shown at a time. */
const most = 12
/** How it is sent: everything anew, clocks along, only to those that answer. */
const how = reactive({ whole: false, clocks: false, ready: false })

const query = useComputed(
  'pending',
  () => [],
  (signal) => ask(api.GET('/api/pending', { signal })),
)
const list = computed<Pending[]>(() => query.data.value ?? [])
const took = (l: Pending[]) => held.setQueryData(keys.computed('pending'), l)
const kept = useComputed(
  'copies',
  () => [],
  (signal) => ask(api.GET('/api/copies', { signal })),
)
const copies = computed<Schemas['Manifest'][]>(() => kept.data.value ?? [])
const lacking = computed(() => list.value.filter((p) => p.lacks))
const does = useComputed(
  'impact',
  () => [],
  (signal) => ask(api.GET('/api/send/impact', { signal })),
  () => lacking.value.length > 0,
)
const impact = computed(() => (lacking.value.length ? does.data.value : undefined))
const impactOf = (id: number) => impact.value?.controllers.find((c) => c.id === id)
const open = ref(false)
const soon = useDebounceFn(() => Promise.all([query.refetch(), kept.refetch()]), 150)
onScopeDispose(listen((n) => n.type === 'state' && n.state.units && void soon()))

const columns: Column<Pending>[] = [
  { id: 'name', title: 'Controller', width: '200px' },
  { id: 'state', title: 'State', text: (p) => words(p) },
]
const words = (p: Pending) =>
  p.sending
    ? 'is being sent'
    : !p.lacks
      ? 'up to date'
      : p.wanted
        ? 'off the network: sent on its return'
        : `${p.online ? '' : 'off the network · '}${many(p.changes.length, 'change', 'changes')}`
const shown = computed(() => (list.value.length > most ? list.value.filter((p) => p.id === chosen.value) : list.value))
const sending = computed(() => list.value.filter((p) => p.sending))
const progress = computed(() => ({
  sent: sending.value.reduce((n, p) => n + (p.sending?.sent ?? 0), 0),
  size: sending.value.reduce((n, p) => n + (p.sending?.size ?? 0), 0),
}))

async function send(controllers: number[]) {
  busy.value = true
  problem.value = done.value = ''
  try {
    const asked = controllers.length ? controllers : how.whole ? list.value.map((p) => p.id) : []
    const before = list.value.filter((p) => (asked.length ? asked.includes(p.id) : p.lacks)).map((p) => p.id)
    took(await ask(api.POST('/api/send', { body: { controllers: asked, ...how } })))
    done.value = ended(before)
    how.whole = false
    void kept.refetch()
  } catch (e) {
    problem.value = (e as Error).message
    void query.refetch()
  } finally {
    busy.value = false
  }
}
/** How a send ended: who is up to date, who waits, and where it failed. */
function ended(ids: number[]): string {
  const those = list.value.filter((p) => ids.includes(p.id))
  const failed = those.filter((p) => p.lacks && p.failed)
  const waits = those.filter((p) => p.lacks && p.wanted && !p.failed)
  const good = those.filter((p) => !p.lacks).length
  const parts = [
    good || !(failed.length + waits.length)
      ? `Sent, and every hash was checked: ${many(good, 'controller is', 'controllers are')} up to date`
      : '',
    waits.length ? `${many(waits.length, 'one waits', 'wait')} for the network and will be sent by itself` : '',
    failed.length ? `not to ${failed.map((p) => `${p.name} (${p.failed})`).join(', ')}; send again to go on` : '',
  ]
  return parts.filter(Boolean).join('; ') + '.'
}
async function cancel(ids: number[]) {
  for (const id of ids) took(await ask(api.POST('/api/send/{id}/cancel', { params: { path: { id } } })))
}
</script>

<template>
  <SheetFrame
    title="Send"
    under="What each controller lacks, and what sending it does. Nothing changes at a door before."
  >
    <template #actions
      ><button v-if="sending.length" class="btn" @click="cancel(sending.map((p) => p.id))">Cancel</button
      ><button class="btn btn-amber" :disabled="busy || !(lacking.length || how.whole)" @click="send([])">
        {{
          busy
            ? 'Sending …'
            : how.whole
              ? `Send everything to ${many(list.length, 'controller', 'controllers')}`
              : lacking.length
                ? `Send to ${many(lacking.length, 'controller', 'controllers')}`
                : 'Nothing to send'
        }}
      </button></template
    >
    <SendTabs />
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <p v-if="done" role="status" class="mb-3 font-semibold text-kelp">{{ done }}</p>
    <p v-if="sending.length" class="mb-3 flex items-center gap-3 text-[13px]" role="status">
      <progress class="h-2 w-56 accent-kelp" :max="progress.size || 1" :value="progress.sent" />
      {{ many(sending.length, 'controller', 'controllers') }} under way
    </p>
    <section v-if="impact" class="card mb-3 p-3.5" aria-label="What sending does">
      <p class="text-[15px] leading-relaxed" :class="impact.lose ? 'text-wine' : impact.gain ? 'text-kelp' : ''">
        <b>{{ inClock(impact.sentence) }}</b>
      </p>
      <template v-if="impact.touched.length">
        <button class="btn mt-1.5 px-2 py-0.5 text-[13px]" :aria-expanded="open" @click="open = !open">
          {{ open ? 'Fold up' : `Open: ${many(impact.people, 'person', 'people')}, doors and hours` }}
        </button>
        <TouchedList v-if="open" class="mt-2" :touched="impact.touched" :people="impact.people" />
      </template>
    </section>
    <StateBox
      v-if="!query.data.value"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="8"
    />
    <p v-else-if="!list.length" class="text-ash">No controller is in service yet. Build is where they are found.</p>
    <div v-else-if="list.length > most" class="mb-3 flex h-[430px] flex-col">
      <DataTable
        :id="(p: Pending) => p.id"
        label="Controllers"
        :columns="columns"
        :rows="list"
        :name="(p: Pending) => p.name"
        :current="chosen"
        none="None."
        @open="(p: Pending) => (chosen = p.id)"
      >
        <template #name="{ row }"
          ><b>{{ row.name }}</b></template
        >
      </DataTable>
    </div>
    <PendingCard
      v-for="p in shown"
      :key="p.id"
      :pending="p"
      :impact="impactOf(p.id)"
      :busy="busy"
      :zone="zone"
      @send="send([p.id])"
      @cancel="cancel([p.id])"
    />
    <template #aside>
      <h2>How it is sent</h2>
      <div class="card space-y-1.5 p-3 text-[13px]">
        <label class="flex items-center gap-1.5"
          ><input v-model="how.clocks" type="checkbox" /> set their clocks too</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="how.ready" type="checkbox" /> only to those that answer now</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="how.whole" type="checkbox" /> everything anew, not the difference</label
        >
      </div>
      <SendLater :how="how" />
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>
          Each controller gets what it needs to decide alone, and reports the hash of what it holds; only when that is
          right does it count as sent.
        </p>
        <p>A complete copy of the database is kept before every send, the newest 20.</p>
      </div>
      <h2>Copies kept</h2>
      <p v-if="!copies.length" class="note">None yet; the first is made before the next send.</p>
      <div v-else class="card text-[13px]">
        <div
          v-for="c in copies.slice(0, 4)"
          :key="c.file"
          class="border-t border-seam px-3 py-2 first:border-t-0"
          :title="`${c.file}, ${(c.bytes / 1e6).toFixed(1)} MB`"
        >
          {{ dateOf(Date.parse(c.at), zone) }} {{ timeOf(Date.parse(c.at), zone) }}
          <p class="note">
            {{ c.why }}, by {{ c.who }}: {{ many(c.counts.door ?? 0, 'door', 'doors') }},
            {{ many(c.counts.person ?? 0, 'person', 'people') }}
          </p>
        </div>
      </div>
    </template>
  </SheetFrame>
</template>
