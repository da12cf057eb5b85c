<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { calmly, listen } from '../../api/live'
import { useDraft } from '../../draft'
import DoorPortrait from '../../parts/DoorPortrait.vue'
import ModeLegend from '../../parts/ModeLegend.vue'
import { useConsequence } from '../../parts/consequence'
import EffectCard from '../../parts/EffectCard.vue'
import FindingCard from '../../parts/FindingCard.vue'
import PeekName from '../../parts/PeekName.vue'
import RealWeek from '../../parts/RealWeek.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import StrongText from '../../parts/StrongText.vue'
import { sure } from '../../parts/sure'
import { useSite } from '../../site'
import DoorForm from './DoorForm.vue'

const site = useSite()
const route = useRoute()
const router = useRouter()
const id = Number(route.params.id ?? 0)
const building = route.path.startsWith('/build')

const plans = ref<Schemas['VersionedPlan'][]>([])
const controllers = ref<Schemas['VersionedController'][]>([])
const sheet = ref<Schemas['Sheet']>()
const week = ref(String(route.query.date ?? ''))
const moment = ref('')
const jump = ref('')

const edit = useDraft<Schemas['Door']>(
  async () => {
    const lists = await Promise.all([ask(api.GET('/api/plans', { params: { query: { limit: 1000 } } })), ask(api.GET('/api/controllers', { params: { query: { limit: 1000 } } }))])
    plans.value = lists[0].items
    controllers.value = lists[1].items
    if (id) return ask(api.GET('/api/doors/{id}', { params: { path: { id } } }))
    return { rev: 0, value: await blank() }
  },
  (draft, rev) => (id ? ask(api.PUT('/api/doors/{id}', { params: { path: { id } }, body: { rev, value: draft } })) : ask(api.POST('/api/doors', { body: draft }))),
  save,
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit

/** A new door starts on the asked controller's next free port, on the floor where the last one went. */
async function blank(): Promise<Schemas['Door']> {
  const usual = await ask(api.GET('/api/usual-door'))
  const c = controllers.value.find((x) => x.value.id === Number(route.query.controller)) ?? controllers.value[0]
  const doors = (await ask(api.GET('/api/doors', { params: { query: { limit: 1000 } } }))).items.map((d) => d.value).filter((d) => d.controllerId === c?.value.id)
  const used = new Set(doors.map((d) => d.port))
  let port = 1
  while (used.has(port)) port++
  const last = doors.sort((a, b) => b.id - a.id)[0]
  const floors = site.overview!.sites.find((s) => s.id === c?.value.siteId)?.floors ?? []
  return { ...usual, port, controllerId: c?.value.id ?? 0, floorId: last?.floorId ?? floors[0]?.id ?? 0, planId: last?.planId ?? plans.value[0]?.value.id ?? 0 }
}

async function look() {
  if (!id) return
  try {
    sheet.value = await ask(api.GET('/api/doors/{id}/sheet', { params: { path: { id }, query: { week: week.value, at: moment.value } } }))
  } catch {
    // the draft says what is wrong
  }
}
watch([week, moment], look)
/** Goes to the week of a date, and looks at that moment where a time is written too. */
function go() {
  const m = /^(\d{4}-\d\d-\d\d)(?:[ T](\d\d:\d\d))?$/.exec(jump.value.trim())
  if (!m) {
    lost.value = 'Write a date as 2026-12-25, or with a time: 2026-12-25 10:30.'
    return
  }
  lost.value = ''
  week.value = m[1]!
  moment.value = m[2] ? `${m[1]}T${m[2]}` : moment.value
}
const lost = ref('')
function now() {
  week.value = moment.value = jump.value = lost.value = ''
}
const momentWords = computed(() => {
  const at = sheet.value?.at ?? moment.value
  return moment.value ? `${new Date(`${at}:00Z`).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' }).replace(',', '')} ${at.slice(11)}` : ''
})
const soon = calmly(look, 150)
const stop = listen((n) => { if (!n.event || n.event.doorId === id) soon() })
onMounted(() => { void edit.reload(); void look() })
onBeforeUnmount(() => { stop(); soon.cancel() })

async function save() {
  if (await edit.save()) {
    void look()
    void site.refresh()
    if (!id) void router.replace(`/build/doors/${stored.value!.value.id}?added=1`)
  }
}
async function remove() {
  if (!(await sure(`Remove ${stored.value!.value.name}?`, 'Its controller forgets it with the next send. History can bring it back.', 'Remove it'))) return
  try {
    await ask(api.DELETE('/api/doors/{id}', { params: { path: { id }, query: { rev: stored.value!.rev } } }))
    edit.leave('/build')
  } catch (e) {
    problem.value = (e as Error).message
  }
}

const place = computed(() => {
  const d = site.doors.find((x) => x.id === id)
  return d ? `${d.site}, ${d.floor}` : 'A new door'
})
const controllerName = computed(() => controllers.value.find((c) => c.value.id === draft.value?.controllerId)?.value.name ?? '')
const planName = computed(() => plans.value.find((p) => p.value.id === stored.value?.value.planId)?.value.name ?? '')
const used = computed(() => [...new Set((sheet.value?.week ?? []).flatMap((d) => d.marks.map((m) => m.mode)))])
const words: Record<string, string> = {
  name: 'Name', port: 'Port', unlock: 'Unlock time', extended: 'Extended unlock', exitTime: 'Exit time', heldOpen: 'Held open after', preAlarm: 'Warning before',
  forced: 'Forced alarm delay', relock: 'Locks again', lock: 'Lock', failSafe: 'Fail-safe', contact: 'Door contact', exit: 'Exit request', outside: 'Outside is', inside: 'Inside is',
  planId: 'Passage plan', floorId: 'Floor', controllerId: 'Controller', exitReleases: 'Exit releases the lock', in: 'Reader in', out: 'Reader out', firstCard: 'First card',
}
const weekWords = computed(() => {
  const days = sheet.value?.week ?? []
  if (!days.length || days.some((d) => d.date === sheet.value!.today)) return 'This week at this door'
  const day = (s: string, o: Intl.DateTimeFormatOptions) => new Date(`${s}T00:00:00Z`).toLocaleDateString('en-GB', { ...o, timeZone: 'UTC' })
  return `${day(days[0]!.date, { day: 'numeric', month: 'short' })} – ${day(days[6]!.date, { day: 'numeric', month: 'short', year: 'numeric' })}`
})
const waits = computed(() => sheet.value?.week.some((d) => d.marks.some((m) => m.first)) ?? false)
const changed = computed(() => sheet.value?.week.some((d) => d.marks.some((m) => m.change)) ?? false)
const firstWords = ref('')
watch([waits, stored], async () => {
  if (!waits.value || !stored.value) return
  const start = sheet.value!.week.flatMap((d) => d.marks).find((m) => m.first)!.start
  firstWords.value = await ask(api.POST('/api/hours/first-card', { body: { rule: stored.value.value.firstCard, start } })).catch(() => '')
})
const show = (k: string, v: unknown) => {
  if (k === 'planId') return plans.value.find((p) => p.value.id === v)?.value.name
  if (k === 'controllerId') return controllers.value.find((p) => p.value.id === v)?.value.name
  if (k === 'floorId') return site.overview!.sites.flatMap((s) => s.floors).find((f) => f.id === v)?.name
  if (k === 'in' || k === 'out') { const r = v as Schemas['Reader']; return r.fitted ? (r.keypad ? 'card and keypad' : 'card') : 'none' }
  if (k === 'firstCard') return (v as Schemas['FirstCard']).who + ', ' + Object.values(v as object).slice(1).join(' ')
  return typeof v === 'boolean' ? (v ? 'yes' : 'no') : typeof v === 'number' && k !== 'port' ? `${v} s` : String(v)
}
const changes = computed(() => {
  if (!id || !draft.value || !stored.value) return []
  const a = stored.value.value as unknown as Record<string, unknown>
  const b = draft.value as unknown as Record<string, unknown>
  return Object.keys(words).filter((k) => JSON.stringify(a[k]) !== JSON.stringify(b[k])).map((k) => ({ what: words[k], was: show(k, a[k]), is: show(k, b[k]) }))
})
/** What other hours do that the door would follow: another plan, floor or controller. */
const effect = useConsequence(() => {
  const [a, b] = [stored.value?.value, draft.value]
  return id && a && b && (a.planId !== b.planId || a.floorId !== b.floorId || a.controllerId !== b.controllerId) ? { door: b } : undefined
})
function step(byDays: number) {
  const first = new Date(`${sheet.value!.week[0]!.date}T00:00:00Z`)
  first.setUTCDate(first.getUTCDate() + byDays)
  week.value = first.toISOString().slice(0, 10)
}
</script>

<template>
  <SheetFrame :title="draft?.name || 'New door'">
    <template #under>
      <template v-if="id">{{ place }} · controller <RouterLink class="underline" :to="`/build/controllers/${stored?.value.controllerId}`">{{ controllerName }}</RouterLink>, door {{ stored?.value.port }} · plan <PeekName v-if="stored" kind="plan" :id="stored.value.planId" :name="planName" /></template>
      <template v-else>Name it, say where it is; the rest has the usual values.</template>
    </template>
    <template #actions>
      <RouterLink v-if="route.query.added" class="btn btn-amber" :to="`/build/doors/new?controller=${stored?.value.controllerId}`">Next door</RouterLink>
      <RouterLink v-if="id && !building" class="btn" to="/hours">All hours</RouterLink>
      <RouterLink v-if="id && !building" class="btn" :to="`/hours/changes/new?door=${id}`">New dated change</RouterLink>
      <RouterLink v-if="id" class="btn" :to="`/prove/${id}`">To the bench</RouterLink>
      <button v-if="id && building" class="btn" @click="remove">Remove</button>
    </template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>

    <template v-if="draft && !missing">
      <p v-if="sheet" class="mb-3 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed"><span v-if="moment" class="text-ash">{{ momentWords }}: </span><StrongText :text="moment ? sheet.sentence.replace(' now', '') : sheet.sentence" /></p>
      <div class="mb-3 grid gap-3" :class="building ? 'grid-cols-[300px_minmax(0,1fr)] max-xl:grid-cols-1' : 'grid-cols-[330px_minmax(0,1fr)] max-xl:grid-cols-[210px_minmax(0,1fr)]'">
        <section class="card self-start overflow-hidden">
          <div class="card-head"><h2>The door</h2><span class="note">{{ !id ? 'as it will be' : sheet?.online ? `${sheet.open ? 'open' : 'closed'} · ${sheet.released ? 'released' : 'locked'}` : 'controller does not answer' }}</span></div>
          <DoorPortrait :door="draft" :state="{ released: sheet?.released ?? false, open: sheet?.open ?? false, alarm: sheet?.alarm }" />
        </section>
        <section v-if="building" class="card self-start"><div class="card-head"><h2>Build</h2><span class="note">fields change the drawing at once</span></div><DoorForm v-model="draft" :fields="fields" :plans="plans" :controllers="controllers" /></section>
        <section v-else-if="sheet" class="card self-start">
          <div class="card-head"><h2>What decides</h2><span class="note">{{ momentWords || 'highest first' }}</span></div>
          <div v-for="l in sheet.layers" :key="l.name" class="row" :class="l.decides ? 'bg-mode-card/40' : ''">
            <span class="w-28 shrink-0 text-ash max-xl:w-20">{{ l.name }}</span><span class="flex-1" :class="l.decides ? 'font-semibold' : ''">{{ l.words }}</span>
            <span v-if="l.decides" class="rounded bg-amber px-2 py-0.5 text-[11px] font-bold text-amber-ink">{{ moment ? 'decides then' : 'decides now' }}</span><span v-else-if="l.next" class="rounded bg-violet/15 px-2 py-0.5 text-[11px] font-bold text-violet">next</span>
          </div>
          <p class="note border-t border-seam px-3.5 py-2">Exit requests work in every layer.<template v-if="waits">&nbsp; <b class="text-kelp">First card:</b> {{ firstWords }}</template></p>
        </section>
      </div>
      <section v-if="sheet" class="card">
        <div class="card-head max-xl:flex-wrap">
          <h2 class="shrink-0">{{ weekWords }}</h2>
          <ModeLegend class="flex-1" :modes="used" :first="waits" :change="changed" />
          <form class="flex shrink-0 items-center gap-1" @submit.prevent="go"><input v-model="jump" class="field w-[142px]! px-2 py-0.5 font-mono text-[12.5px]" placeholder="2026-12-25 10:30" aria-label="Go to a date" /><button type="button" class="btn px-2 py-0.5" aria-label="Week before" @click="step(-7)">‹</button><button type="button" class="btn px-2 py-0.5" :disabled="!week && !moment" @click="now">Now</button><button type="button" class="btn px-2 py-0.5" aria-label="Week after" @click="step(7)">›</button></form>
        </div>
        <p v-if="lost" role="alert" class="px-3.5 pt-2 text-[13px] font-semibold text-wine">{{ lost }}</p>
        <p v-else-if="moment && sheet.odd" role="status" class="px-3.5 pt-2 text-[13px] text-wine">{{ sheet.odd }}.</p>
        <RealWeek :week="sheet.week" :today="sheet.today" :minute="sheet.minute" :chosen="moment" @pick="(at) => (moment = at)" />
      </section>
    </template>

    <template #aside>
      <template v-if="dirty && !missing">
        <h2>What this edit does</h2>
        <div v-if="changes.length" class="card p-3 text-[13px]">
          <p v-for="c in changes" :key="c.what" class="py-0.5">{{ c.what }} <b>{{ c.was }}</b> → <b>{{ c.is }}</b></p>
          <p class="note mt-1">1 door; takes effect when sent to {{ controllerName }}.</p>
        </div>
        <EffectCard v-if="effect" :effect="effect" none="" />
        <p v-else-if="!id" class="note">Adds a door to {{ controllerName }}; it works once sent.</p>
      </template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" :save-label="id ? 'Save' : 'Add the door'" @save="save" @discard="id ? edit.discard() : edit.leave()" />
      <template v-if="sheet">
        <template v-if="sheet.unsent.length">
          <h2>Not sent yet</h2>
          <div class="card p-3 text-[13px]"><p v-for="c in sheet.unsent.slice(0, 6)" :key="c.words" class="py-0.5">{{ c.words }}</p><p v-if="sheet.unsent.length > 6" class="note">and {{ sheet.unsent.length - 6 }} more</p><RouterLink to="/send" class="underline">Go to Send</RouterLink></div>
        </template>
        <template v-if="sheet.findings.length"><h2>Findings</h2><FindingCard v-for="f in sheet.findings" :key="f.code + f.id" :finding="f" /></template>
        <h2>Who can come in</h2>
        <div class="card">
          <p v-if="!sheet.ways.length" class="p-3 text-[13px] text-ash">Nobody yet: no access level covers this door. Add it to a level in People.</p>
          <div v-for="w in sheet.ways" :key="`${w.levelId} ${w.scheduleId}`" class="row text-[13px]">
            <span class="min-w-0 flex-1"><PeekName kind="level" :id="w.levelId" :name="w.level" /><span class="note block text-[12px]"><PeekName kind="schedule" :id="w.scheduleId" :name="w.schedule" /></span></span><b :title="`${w.people} people hold it`">{{ w.people }}</b>
          </div>
        </div>
      </template>
    </template>
  </SheetFrame>
</template>
