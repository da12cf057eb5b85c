<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Trouble, type Mode, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import CalendarLinks from '../../parts/CalendarLinks.vue'
import FormField from '../../parts/FormField.vue'
import RealWeek from '../../parts/RealWeek.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import { removalWords } from '../../parts/consequence'
import { askFor, sure } from '../../parts/sure'
import { useSite } from '../../site'
import { many, modeClass, modeName, modes } from '../../words'
import EffectCard from '../../parts/EffectCard.vue'
import RulePicker from './RulePicker.vue'

const site = useSite()
const route = useRoute()
const router = useRouter()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }
const once: Schemas['RuleParts'] = { every: 'once', interval: 1, byDay: [], byMonthDay: [], byMonth: [], bySetPos: [], count: 0, until: '' }

const edit = useDraft<Schemas['DatedChange']>(
  async () => {
    if (id) return ask(api.GET('/api/dated-changes/{id}', { params: path }))
    if (route.query.copy) {
      const from = (await ask(api.GET('/api/dated-changes/{id}', { params: { path: { id: Number(route.query.copy) } } }))).value
      return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy`, ended: '' } }
    }
    const day = String(route.query.date ?? site.today(Number(route.query.door)))
    const doorIds = route.query.door ? [Number(route.query.door)] : []
    return { rev: 0, value: { id: 0, name: '', mode: 'free' as Mode, doorIds, floorIds: [], siteIds: [], setIds: [], from: `${day}T17:00`, until: `${day}T21:00`, recurs: '' } }
  },
  (value, rev) => (id ? ask(api.PUT('/api/dated-changes/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/dated-changes', { body: value }))),
  save,
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const sets = ref<Schemas['DoorSet'][]>([])
const rule = ref<Schemas['RuleParts']>({ ...once })
const preview = ref<Schemas['ChangePreview']>()
const effect = ref<Schemas['EditEffect']>()
const said = ref('')
const wrong = ref<Record<string, string>>({}) // what the preview says against fields
const ruleProblem = ref('')
const week = ref('')
const find = ref('')

async function loadSets() {
  sets.value = (await ask(api.GET('/api/door-sets', { params: { query: { limit: 1000 } } }))).items.map((s) => s.value)
}
onMounted(async () => {
  await Promise.all([edit.reload(), loadSets()])
  await look()
})

let timer = 0
let turn = 0
let clicks = 0 // on the rule; while more than were answered, its parts say more than the draft
let answered = 0
let told = '' // the parts that were told last
/** What the change means: its rule in words, its next dates, the real weeks, and what it does. */
async function look() {
  if (!draft.value) return
  const mine = ++turn
  const at = clicks
  try {
    const p = await ask(api.POST('/api/dated-changes/preview', { body: { change: draft.value, week: week.value, ...(clicks > answered ? { parts: rule.value } : {}) } }))
    if (mine !== turn || at !== clicks) return
    preview.value = p
    answered = at
    told = JSON.stringify(p.parts)
    rule.value = p.parts
    if (draft.value.recurs !== p.recurs) draft.value.recurs = p.recurs
    said.value = ruleProblem.value = ''
    wrong.value = {}
    const somewhere = draft.value.doorIds.length + draft.value.floorIds.length + draft.value.siteIds.length + draft.value.setIds.length
    const e = somewhere ? await ask(api.POST('/api/hours/effect', { body: { change: draft.value } })) : undefined
    if (mine === turn) effect.value = e
  } catch (e) {
    if (mine !== turn) return
    said.value = (e as Error).message.replace(/^Not saved: /, '')
    wrong.value = e instanceof Trouble ? e.fields : {}
    effect.value = undefined
  }
}
const soon = () => { clearTimeout(timer); timer = window.setTimeout(() => look(), 200) }
watch([draft, week], soon, { deep: true })
watch(rule, (r) => {
  if (JSON.stringify(r) === told) return
  clicks++
  soon()
}, { deep: true })

const part = (key: 'from' | 'until', which: 'date' | 'time') => computed({
  get: () => (which === 'date' ? (draft.value?.[key] ?? '').slice(0, 10) : (draft.value?.[key] ?? '').slice(11)),
  set: (v: string) => {
    const now = draft.value![key]
    draft.value![key] = which === 'date' ? `${v.trim()}T${now.slice(11)}` : `${now.slice(0, 10)}T${v.trim()}`
    // An evening that moves takes its end along.
    if (key === 'from' && which === 'date' && draft.value!.until.slice(0, 10) < v.trim()) draft.value!.until = `${v.trim()}T${draft.value!.until.slice(11)}`
  },
})
const fromDate = part('from', 'date')
const fromTime = part('from', 'time')
const untilDate = part('until', 'date')
const untilTime = part('until', 'time')

const places = computed(() => {
  const text = find.value.trim().toLowerCase()
  return site.overview!.sites.map((s) => ({
    ...s, floors: [...s.floors].sort((a, b) => b.level - a.level).map((f) => ({ ...f, doors: f.doors.filter((d) => `${d.name} ${f.name} ${s.name}`.toLowerCase().includes(text)) })).filter((f) => f.doors.length),
  }))
})
const inside = (doorId: number, floorId: number, siteId: number) => draft.value!.floorIds.includes(floorId) || draft.value!.siteIds.includes(siteId) || sets.value.some((s) => draft.value!.setIds.includes(s.id) && s.doorIds.includes(doorId))
async function keepSet() {
  const name = await askFor('Keep these doors as a set', 'Name of the door set', 'Keep it')
  if (!name) return
  try {
    const set = await ask(api.POST('/api/door-sets', { body: { id: 0, name, doorIds: draft.value!.doorIds } }))
    await loadSets()
    draft.value!.setIds = [...draft.value!.setIds, set.value.id]
    draft.value!.doorIds = []
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const leaveOut = (d: string) => { draft.value!.except = [...(draft.value!.except ?? []), d].sort() }
const takeIn = (d: string) => { draft.value!.except = draft.value!.except!.filter((x) => x !== d) }
async function save() {
  clearTimeout(timer)
  if (clicks > answered) await look() // the rule is worked out before it is saved
  if (clicks > answered) return
  if ((await edit.save()) && !id) void router.replace(`/hours/changes/${stored.value!.value.id}`)
}
function discard() {
  if (!id) return edit.leave('/hours/changes')
  edit.discard()
  answered = clicks
  void look()
}
async function remove() {
  if (!(await sure(`Remove ${stored.value!.value.name}?`, `${await removalWords(id)}History can bring it back.`, 'Remove it'))) return
  try {
    await ask(api.DELETE('/api/dated-changes/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/hours/changes')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
async function end() {
  if (!(await sure(`End ${stored.value!.value.name} now?`, `From this minute on it no longer holds, at ${many(preview.value?.count ?? 0, 'door', 'doors')}, once sent. History can bring it back.`, 'End it'))) return
  try {
    await ask(api.POST('/api/dated-changes/{id}/end', { params: path }))
    await edit.reload()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
function step(byDays: number) {
  const d = new Date(`${preview.value!.week}T00:00:00Z`)
  d.setUTCDate(d.getUTCDate() + byDays)
  week.value = d.toISOString().slice(0, 10)
}
</script>

<template>
  <SheetFrame :title="draft?.name || 'New dated change'">
    <template #under>Dated change: above holidays and plans</template>
    <template #actions><button class="btn" @click="router.push('/hours/changes')">All dated changes</button><button v-if="id" class="btn" @click="router.push(`/hours/changes/new?copy=${id}`)">Copy</button><button v-if="id && !draft?.ended" class="btn" @click="end">End now</button><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <div class="mb-3 grid grid-cols-[minmax(0,1fr)_236px] gap-3 max-xl:grid-cols-1">
        <form class="card space-y-3 self-start p-4" @submit.prevent="save">
          <FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="draft.name" class="field" placeholder="Lantern evening" :aria-invalid="f.invalid" :autofocus="!id" /></FormField>
          <fieldset><legend class="label mb-1">The doors are</legend>
            <div class="grid grid-cols-3 gap-1.5" role="radiogroup" aria-label="The doors are"><button v-for="m in modes" :key="m" type="button" role="radio" :aria-checked="draft.mode === m" class="btn justify-start px-2 text-[13px]" :class="draft.mode === m ? 'outline-2 outline-ink' : ''" @click="draft.mode = m"><span class="h-3 w-4 border border-ash/50" :class="modeClass(m)" />{{ modeName(m) }}</button></div></fieldset>
          <div class="flex flex-wrap items-center gap-1.5"><span class="label">From</span><input v-model.lazy="fromDate" class="field w-[104px]! px-2 font-mono text-[13px]" aria-label="From date" :aria-invalid="!!(fields.from || wrong.from)" /><input v-model.lazy="fromTime" class="field w-[62px]! px-2 font-mono text-[13px]" aria-label="From time" :aria-invalid="!!(fields.from || wrong.from)" /><span class="label">until</span><input v-model.lazy="untilDate" class="field w-[104px]! px-2 font-mono text-[13px]" aria-label="Until date" :aria-invalid="!!(fields.until || wrong.until)" /><input v-model.lazy="untilTime" class="field w-[62px]! px-2 font-mono text-[13px]" aria-label="Until time" :aria-invalid="!!(fields.until || wrong.until)" /></div>
          <RulePicker v-model="rule" :from="draft.from" :problem="ruleProblem" />
          <p v-if="said" role="alert" class="text-[13px] font-semibold text-wine">{{ said }}</p>
          <p v-else-if="preview" class="border-l-4 border-violet py-0.5 pl-3 text-[13px]"><b>{{ modeName(draft.mode) }} {{ draft.from.slice(11) }}–{{ draft.until.slice(11) }}, {{ preview.words }}.</b> <template v-if="preview.next.length">Next: <span v-for="(d, i) in preview.days" :key="d" class="mr-1.5 whitespace-nowrap">{{ preview.next[i] }}<button v-if="draft.recurs" type="button" class="ml-0.5 rounded px-1 text-ash hover:bg-seam" :aria-label="`Leave out ${preview.next[i]}`" title="Leave this date out" @click="leaveOut(d)">×</button></span></template><template v-else>No date is to come.</template><template v-if="draft.ended"> Ended early, {{ draft.ended.replace('T', ' ') }}.</template></p>
          <p v-if="draft.except?.length" class="text-[13px]"><span class="text-ash">Left out:</span> <template v-for="d in draft.except" :key="d"><span class="font-mono">{{ d }}</span><button type="button" class="mr-2 ml-0.5 rounded px-1 text-ash underline hover:bg-seam" :aria-label="`Take ${d} in again`" @click="takeIn(d)">take in again</button></template></p>
        </form>
        <section class="card flex max-h-[330px] flex-col self-start">
          <div class="card-head py-1.5"><h2>Where</h2><span class="note">{{ many(preview?.count ?? 0, 'door', 'doors') }}</span></div>
          <p v-if="preview?.doors.length" class="px-3 pt-1.5 text-[12.5px] font-semibold">{{ preview.doors.slice(0, 5).map((d) => d.name).join(', ') }}{{ preview.count > 5 ? ' …' : '' }}</p>
          <div class="p-2"><input v-model="find" type="search" class="field py-1" placeholder="Find a door or floor" aria-label="Find a place" /></div>
          <div class="min-h-0 flex-1 overflow-auto px-3 pb-2 text-[13px]">
            <label v-for="s in sets" :key="s.id" class="flex items-center gap-1.5 py-0.5"><input v-model="draft.setIds" type="checkbox" :value="s.id" /> {{ s.name }} <span class="note text-[12px]">door set, {{ s.doorIds.length }}</span></label>
            <p v-if="!places.some((s) => s.floors.length)" class="note">{{ find ? `No door or floor has “${find}” in its name.` : 'No doors yet; Build is where they are named.' }}</p>
            <div v-for="s in places" :key="s.id"><label class="mt-1 flex items-center gap-1.5 font-bold"><input v-model="draft.siteIds" type="checkbox" :value="s.id" /> {{ s.name }}</label>
              <div v-for="f in s.floors" :key="f.id" class="pl-3"><label class="flex items-center gap-1.5 text-ash"><input v-model="draft.floorIds" type="checkbox" :value="f.id" :disabled="draft.siteIds.includes(s.id)" /> {{ f.name }}</label>
                <label v-for="d in f.doors" :key="d.id" class="flex items-center gap-1.5 pl-4"><input v-if="inside(d.id, f.id, s.id)" type="checkbox" checked disabled /><input v-else v-model="draft.doorIds" type="checkbox" :value="d.id" /> {{ d.name }}</label></div></div>
          </div>
          <button v-if="draft.doorIds.length > 1" type="button" class="btn btn-quiet border-t border-seam py-1 text-[13px]" @click="keepSet">Keep these {{ draft.doorIds.length }} as a door set</button>
        </section>
      </div>
      <p v-if="fields.doorIds" class="mb-2 font-semibold text-wine">{{ fields.doorIds }}</p>
      <section v-if="preview?.doors.length && !said" class="card">
        <div class="card-head py-1.5"><h2>The week of {{ preview.week }} with this change</h2><span class="flex gap-1"><button class="btn px-2 py-0.5" aria-label="Week before" @click="step(-7)">‹</button><button class="btn px-2 py-0.5" :disabled="!week" @click="week = ''">Its next</button><button class="btn px-2 py-0.5" aria-label="Week after" @click="step(7)">›</button></span></div>
        <div v-for="d in preview.doors" :key="d.id" class="border-t border-seam first:border-t-0"><p class="px-3.5 pt-2 text-[13px] font-bold">{{ d.name }}</p><RealWeek tight :week="d.week" /></div>
        <p v-if="preview.count > preview.doors.length" class="note px-3.5 pb-2">and {{ preview.count - preview.doors.length }} more doors</p>
      </section>
    </template>
    <template #aside>
      <template v-if="(dirty || !id) && !missing"><h2>What this does</h2><EffectCard :effect="effect" :none="said ? 'Mend what is wrong first; what it does stands here.' : 'Choose doors, a floor, a site or a door set; what it does stands here.'" /></template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" :save-label="id ? 'Save' : 'Add the change'" @save="save" @discard="discard" />
      <p v-if="id && !dirty" class="note">It stands above holidays and plans. Where another change meets it at a door, the one made later decides.</p>
      <CalendarLinks v-if="id" name="changes" />
    </template>
  </SheetFrame>
</template>
