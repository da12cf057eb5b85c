<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { keys, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { dateOf, many, timeOf } from '../../words'
import PendingCard from './PendingCard.vue'

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

const lacking = computed(() => list.value.filter((p) => p.lacks))
async function send(controllers: number[]) {
  busy.value = true
  problem.value = done.value = ''
  try {
    const before = lacking.value.filter((p) => !controllers.length || controllers.includes(p.id)).length
    took(await ask(api.POST('/api/send', { body: { controllers } })))
    const left = lacking.value.filter((p) => p.wanted).length
    done.value = left
      ? `${many(before - left, 'controller is', 'controllers are')} up to date; ${many(left, 'one waits', 'wait')} for the network and will be sent by itself.`
      : `Sent, and every hash was checked: ${many(before, 'controller is', 'controllers are')} up to date.`
    void kept.refetch()
  } catch (e) {
    problem.value = (e as Error).message
    void query.refetch()
  } finally {
    busy.value = false
  }
}
async function cancel(id: number) {
  took(await ask(api.POST('/api/send/{id}/cancel', { params: { path: { id } } })))
}
</script>

<template>
  <SheetFrame title="Send" under="What each controller lacks, in words. Nothing changes at a door before it is sent.">
    <template #actions
      ><button class="btn btn-amber" :disabled="busy || !lacking.length" @click="send([])">
        {{
          busy
            ? 'Sending …'
            : lacking.length
              ? `Send to ${many(lacking.length, 'controller', 'controllers')}`
              : 'Nothing to send'
        }}
      </button></template
    >
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <p v-if="done" role="status" class="mb-3 font-semibold text-kelp">{{ done }}</p>
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
      :busy="busy"
      :zone="zone"
      @send="send([p.id])"
      @cancel="cancel(p.id)"
    />
    <template #aside>
      <h2>How sending works</h2>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Each controller gets one image: all it needs to decide alone.</p>
        <p>Afterwards it reports the hash of what it holds; only when that is right does it count as sent.</p>
        <p>A complete copy of the database is kept before every send, the newest 20.</p>
      </div>
      <h2>Copies kept</h2>
      <p v-if="!copies.length" class="note">None yet; the first is made before the next send.</p>
      <div v-else class="card text-[13px]">
        <div
          v-for="c in copies.slice(0, 6)"
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
