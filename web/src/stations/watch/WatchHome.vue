<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../api/live'
import SheetFrame from '../../parts/SheetFrame.vue'
import TraceList from '../../parts/TraceList.vue'
import { useSite } from '../../site'
import { dateOf, timeOf } from '../../words'

type Event = Schemas['Event']
const site = useSite()
const route = useRoute()
const router = useRouter()
const list = ref<Event[]>([])
const chosen = ref<Event>()
const more = ref(false)
const problem = ref('')
const q = ref('')
const outcome = ref<'' | Event['outcome']>('')
const quiet = ref(true)
const door = computed(() => Number(route.query.door ?? 0))
const person = computed(() => Number(route.query.person ?? 0))
const quietKinds = new Set(['opened', 'closed', 'mode', 'entered', 'exit-request'])
const outcomes = ['', 'granted', 'refused', 'alarm', 'door', 'system'] as const

const query = () => ({ door: door.value, person: person.value, outcome: outcome.value, q: q.value, quiet: quiet.value, limit: 100 })
async function load() {
  try {
    list.value = await ask(api.GET('/api/events', { params: { query: query() } }))
    more.value = list.value.length === 100
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
async function older() {
  const last = list.value.at(-1)!
  const page = await ask(api.GET('/api/events', { params: { query: { ...query(), before: last.at, beforeId: last.id } } }))
  list.value = [...list.value, ...page]
  more.value = page.length === 100
}
let timer = 0
watch([q, outcome, quiet, door, person], () => {
  clearTimeout(timer)
  timer = window.setTimeout(load, 150)
})
const holds = (e: Event) =>
  (!door.value || e.doorId === door.value) && (!person.value || e.personId === person.value) && (!outcome.value || e.outcome === outcome.value) &&
  (!quiet.value || !quietKinds.has(e.kind)) && (!q.value || `${e.door} ${e.person} ${e.headline} ${e.detail} ${e.controller}`.toLowerCase().includes(q.value.toLowerCase()))
const stop = listen((n) => {
  if (n.type === 'back') void load()
  if (n.type === 'event' && n.event && holds(n.event)) {
    // An event that a controller kept while it was offline has its own, earlier time.
    const i = list.value.findIndex((e) => e.at < n.event!.at || (e.at === n.event!.at && e.id < n.event!.id))
    if (!list.value.some((e) => e.id === n.event!.id)) list.value.splice(i < 0 ? list.value.length : i, 0, n.event)
  }
  if (n.type === 'acknowledged' && n.event) list.value = list.value.map((e) => (e.id === n.event!.id ? n.event! : e))
})
onMounted(load)
onBeforeUnmount(() => { stop(); clearTimeout(timer) })

async function acknowledge(e: Event) {
  const seen = await ask(api.POST('/api/events/{id}/acknowledge', { params: { path: { id: e.id } } }))
  list.value = list.value.map((x) => (x.id === e.id ? seen : x))
  if (chosen.value?.id === e.id) chosen.value = seen
  void site.refresh()
}
const trace = computed(() => (chosen.value ? (JSON.parse(chosen.value.trace) as Schemas['Line'][]) : []))
const tint: Record<string, string> = { granted: 'bg-kelp', refused: 'border-2 border-wine', alarm: 'bg-wine', door: 'bg-seam', system: 'bg-ash' }
const late = (e: Event) => e.storedAt - e.at > 60_000
const newDay = (i: number) => i === 0 || dateOf(list.value[i]!.at, list.value[i]!.zone) !== dateOf(list.value[i - 1]!.at, list.value[i - 1]!.zone)
</script>

<template>
  <SheetFrame title="Watch" under="What the doors said, the newest on top, each by its controller's own clock">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <input v-model="q" class="field w-64!" type="search" placeholder="Person, door, what happened" aria-label="Find in events" />
      <div class="flex rounded-md border border-seam bg-paper p-0.5" role="group" aria-label="Outcome">
        <button v-for="o in outcomes" :key="o" class="rounded px-2.5 py-1 text-[13px] font-semibold" :class="outcome === o ? 'bg-basalt-2 text-paper' : 'text-ash'" :aria-pressed="outcome === o" @click="outcome = o">{{ o || 'all' }}</button>
      </div>
      <label class="flex items-center gap-1.5 text-[13px]"><input v-model="quiet" type="checkbox" /> without openings</label>
      <button v-if="door || person" class="btn px-2 py-1" @click="router.push('/watch')">{{ door ? site.doorName(door) : 'one person' }} ✕</button>
    </div>
    <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
    <section class="card overflow-hidden" aria-label="Events">
      <p v-if="!list.length" class="p-4 text-ash">Nothing to show. {{ q || outcome || door || person ? 'Take a filter away to see more.' : 'Present a card on the bench, and it appears here.' }}</p>
      <template v-for="(e, i) in list" :key="e.id">
        <p v-if="newDay(i)" class="border-b border-seam bg-lime px-3.5 py-1 text-[12px] font-bold text-ash">{{ dateOf(e.at, e.zone) }}</p>
        <div
          role="button" tabindex="0" class="row cursor-pointer border-t-0 border-b py-1.5 hover:bg-lime" :class="[chosen?.id === e.id ? 'bg-mode-card/40' : '', e.alarm && !e.ackedAt ? 'bg-wine/8' : '']"
          @click="chosen = e" @keydown.enter="chosen = e"
        >
          <span class="w-[66px] shrink-0 font-mono text-[12.5px]" :title="e.zone">{{ timeOf(e.at, e.zone) }}</span>
          <span class="size-2.5 shrink-0 rounded-full" :class="tint[e.outcome]" :title="e.outcome" />
          <span class="w-36 shrink-0 truncate" :title="e.door || e.controller">{{ e.door || e.controller }}</span>
          <span class="min-w-0 flex-1 truncate"><b>{{ e.headline }}</b>{{ e.person && ` ${e.person}` }}<span v-if="e.detail" class="text-ash"> · {{ e.detail }}</span></span>
          <span v-if="late(e) && e.seq" class="note shrink-0 text-[11px]" title="The controller kept it and handed it over later">came {{ timeOf(e.storedAt, e.zone).slice(0, 5) }}</span>
          <template v-if="e.alarm"><span v-if="e.ackedAt" class="note shrink-0 text-[12px]">seen by {{ e.ackedBy }}</span><button v-else class="btn btn-wine shrink-0 px-2 py-0" @click.stop="acknowledge(e)">Acknowledge</button></template>
        </div>
      </template>
    </section>
    <button v-if="more" class="btn mt-3" @click="older">Older</button>
    <template #aside>
      <template v-if="chosen">
        <div class="rounded-lg p-3.5" :class="chosen.outcome === 'refused' || chosen.outcome === 'alarm' ? 'bg-wine text-paper' : chosen.outcome === 'granted' ? 'bg-kelp text-paper' : 'border border-seam bg-paper'">
          <p class="text-[15px] font-bold">{{ chosen.headline }}</p>
          <p v-if="chosen.detail">{{ chosen.detail }}</p>
        </div>
        <div class="card text-[13px]">
          <p class="row"><span class="w-16 text-ash">Door</span>{{ chosen.door || '—' }}</p>
          <p class="row"><span class="w-16 text-ash">Person</span>{{ chosen.person || '—' }}</p>
          <p class="row"><span class="w-16 text-ash">When</span>{{ dateOf(chosen.at, chosen.zone) }} {{ timeOf(chosen.at, chosen.zone) }}</p>
          <p class="row"><span class="w-16 text-ash">From</span>{{ chosen.controller }}, no. {{ chosen.seq }}</p>
        </div>
        <template v-if="trace.length"><h2>Why</h2><TraceList :lines="trace" /></template>
        <template v-if="chosen.mend"><h2>What would change it</h2><p class="card p-3 text-[13px] leading-relaxed">{{ chosen.mend }}</p></template>
        <p class="flex flex-wrap gap-2"><button v-if="chosen.doorId" class="btn" @click="router.push(`/watch?door=${chosen.doorId}`)">Only this door</button><button v-if="chosen.personId" class="btn" @click="router.push(`/watch?person=${chosen.personId}`)">Only this person</button></p>
      </template>
      <p v-else class="card p-3 text-[13px] leading-relaxed text-ash">Choose an event to see which checks were made and what would have to change.</p>
    </template>
  </SheetFrame>
</template>
