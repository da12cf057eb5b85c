<script setup lang="ts">
import { useInfiniteQuery, useQueryClient, type InfiniteData } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useAddress } from '../../core/address'
import { useKeys } from '../../core/keys'
import { listen } from '../../core/live'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { inClock } from '../../clock'
import { at, dateOf, timeOf } from '../../words'
import EventAside from './EventAside.vue'
import { insert } from './events'

type Event = Schemas['Event']
const site = useSite()
const route = useRoute()
const router = useRouter()
const held = useQueryClient()
const chosen = ref<Event>()
const problem = ref('')
const q = useAddress('q')
const outcome = useAddress('outcome')
const all = useAddress('all')
const quiet = computed({ get: () => !all.value, set: (v) => (all.value = v ? '' : '1') })
const door = computed(() => Number(route.query.door ?? 0))
const person = computed(() => Number(route.query.person ?? 0))
const outcomes = ['', 'granted', 'refused', 'alarm', 'door', 'system'] as const
const most = 100
const field = ref<HTMLInputElement>()

const soon = useDebounce(q, 150)
const asked = computed(() => ({
  door: door.value,
  person: person.value,
  outcome: outcome.value as Event['outcome'],
  q: soon.value,
  quiet: quiet.value,
  limit: most,
}))
type From = { before?: number; beforeId?: number }
const key = computed(() => ['events', asked.value])
const pages = useInfiniteQuery({
  queryKey: key,
  queryFn: ({ pageParam, signal }) =>
    ask(api.GET('/api/events', { params: { query: { ...asked.value, ...pageParam } }, signal })),
  initialPageParam: {} as From,
  getNextPageParam: (last: Event[]): From | undefined =>
    last.length === most ? { before: last.at(-1)!.at, beforeId: last.at(-1)!.id } : undefined,
  gcTime: 0, // what was seen earlier is not what happened meanwhile
  shallow: true,
})
const list = computed<Event[]>(() => (pages.data.value?.pages ?? []).flat())

const holds = (e: Event) =>
  (!door.value || e.doorId === door.value) &&
  (!person.value || e.personId === person.value) &&
  (!outcome.value || e.outcome === outcome.value) &&
  (!q.value ||
    `${e.door} ${e.person} ${e.headline} ${e.detail} ${e.controller}`.toLowerCase().includes(q.value.toLowerCase()))
type Pages = InfiniteData<Event[], From>
const change = (how: (p: Event[][]) => Event[][]) =>
  held.setQueryData<Pages>(key.value, (d) => d && { ...d, pages: how(d.pages) })
const seen = (e: Event) => {
  change((p) => p.map((page) => page.map((x) => (x.id === e.id ? e : x))))
  if (chosen.value?.id === e.id) chosen.value = e
}
onScopeDispose(
  listen((n) => {
    if (n.type === 'event' && !(n.quiet && quiet.value) && holds(n.event)) change((p) => insert(p, n.event))
    if (n.type === 'acknowledged') seen(n.event)
  }),
)

async function acknowledge(e: Event) {
  try {
    seen(await ask(api.POST('/api/events/{id}/acknowledge', { params: { path: { id: e.id } } })))
    problem.value = ''
  } catch (err) {
    problem.value = (err as Error).message
  }
}
const tint: Record<string, string> = {
  granted: 'bg-kelp',
  refused: 'border-2 border-wine',
  alarm: 'bg-wine',
  door: 'bg-seam',
  system: 'bg-ash',
}
const cameAt = (e: Event) => at(e.storedAt, e.zone, { hour: '2-digit', minute: '2-digit' })
const late = (e: Event) => e.storedAt - e.at > 60_000
const columns: Column<Event>[] = [
  { id: 'at', title: 'When', width: '136px' },
  { id: 'where', title: 'Where', width: '140px', text: (e) => e.door || e.controller },
  { id: 'what', title: 'What' },
]
const filtered = computed(() => !!(q.value || outcome.value || door.value || person.value))
useKeys('This list', [
  { keys: '/', what: 'Find in the events', run: () => field.value?.focus() },
  {
    keys: 'a',
    what: 'Acknowledge the chosen alarm',
    run: () => chosen.value?.alarm && !chosen.value.ackedAt && void acknowledge(chosen.value),
  },
])
</script>

<template>
  <SheetFrame fill title="Watch" under="What the doors said, the newest on top, each by its controller's own clock">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <input
        ref="field"
        v-model="q"
        class="field w-64!"
        type="search"
        placeholder="Person, door, what happened"
        aria-label="Find in events"
        @keydown.esc="q = ''"
      />
      <div class="flex rounded-md border border-seam bg-paper p-0.5" role="group" aria-label="Outcome">
        <button
          v-for="o in outcomes"
          :key="o"
          class="rounded px-2.5 py-1 text-[13px] font-semibold"
          :class="outcome === o ? 'bg-basalt-2 text-paper' : 'text-ash'"
          :aria-pressed="outcome === o"
          @click="outcome = o"
        >
          {{ o || 'all' }}
        </button>
      </div>
      <label class="flex items-center gap-1.5 text-[13px]"
        ><input v-model="quiet" type="checkbox" /> without openings</label
      >
      <button v-if="door || person" class="btn px-2 py-1" @click="router.push('/watch')">
        {{ door ? site.doorName(door) : 'one person' }} ✕
      </button>
    </div>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <DataTable
      :id="(e: Event) => e.id"
      label="Events"
      :columns="columns"
      :rows="list"
      :name="(e: Event) => e.headline"
      :loading="pages.isPending.value"
      :error="pages.error.value"
      :again="() => pages.refetch()"
      :more="() => !pages.isFetchingNextPage.value && pages.fetchNextPage()"
      :has-more="pages.hasNextPage.value"
      :filtered="filtered"
      :current="chosen?.id"
      :tint="(e: Event) => (e.alarm && !e.ackedAt ? 'bg-wine/8' : '')"
      none="Nothing to show. Present a card on the bench, and it appears here."
      @open="(e: Event) => (chosen = e)"
    >
      <template #at="{ row: e }"
        ><span class="font-mono text-[12px]" :title="e.zone"
          >{{ dateOf(e.at, e.zone).slice(4) }} {{ timeOf(e.at, e.zone) }}</span
        ></template
      >
      <template #where="{ row: e }"
        ><span :title="e.door || e.controller">{{ e.door || e.controller }}</span></template
      >
      <template #what="{ row: e }"
        ><span class="flex items-center gap-2"
          ><span
            class="inline-block size-2.5 shrink-0 rounded-full"
            :class="tint[e.outcome]"
            role="img"
            :aria-label="e.outcome"
            :title="e.outcome"
          /><span class="min-w-0 flex-1 truncate" :title="[e.headline, e.person, e.detail].filter(Boolean).join(' · ')"
            ><b>{{ e.headline }}</b
            >{{ e.person && ` ${e.person}`
            }}<span v-if="e.detail" class="text-ash"> · {{ inClock(e.detail) }}</span></span
          ><template v-if="e.alarm"
            ><span v-if="e.ackedAt" class="note shrink-0 text-[12px]">seen by {{ e.ackedBy }}</span
            ><button v-else class="btn btn-wine shrink-0 px-2 py-0" @click.stop="acknowledge(e)">
              Acknowledge
            </button></template
          ><span
            v-else-if="late(e) && e.seq"
            class="note shrink-0 text-[11px]"
            title="The controller kept it and handed it over later"
            >came {{ cameAt(e) }}</span
          ></span
        ></template
      >
    </DataTable>
    <template #aside>
      <EventAside v-if="chosen" :event="chosen" />
      <p v-else class="card p-3 text-[13px] leading-relaxed text-ash">
        Choose an event to see which checks were made and what would have to change.
      </p>
    </template>
  </SheetFrame>
</template>
