<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { duration, many } from '../../words'
import { useUndo } from './undo'
import WeekPainter from './WeekPainter.vue'

type Stroke = { days: number[]; period: { start: number; end: number } }
const router = useRouter()
const route = useRoute()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }

const edit = useDraft<Schemas['Schedule']>(
  async () => (id ? ask(api.GET('/api/schedules/{id}', { params: path })) : { rev: 0, value: { id: 0, name: '', week: Array.from({ length: 7 }, () => []) } }),
  (value, rev) => (id ? ask(api.PUT('/api/schedules/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/schedules', { body: value }))),
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const text = ref('')
const unread = ref('')
const minutes = ref(0)
const open = ref(true)
const effect = ref<Schemas['Effect']>()
const history = useUndo(() => draft.value!.week, (w) => { draft.value!.week = w; void paint() })

function take(w: Schemas['WeekText'], typed: boolean) {
  draft.value!.week = w.week
  minutes.value = w.minutes
  unread.value = ''
  if (!typed) text.value = w.text
}
async function paint(stroke?: Stroke, paintOpen = open.value) {
  if (stroke) history.mark()
  try {
    take(await ask(api.POST('/api/hours/paint-week', { body: { week: draft.value!.week, open: paintOpen, stroke } })), false)
  } catch (e) {
    problem.value = (e as Error).message
  }
}
let timer = 0
let turn = 0
function typed() {
  clearTimeout(timer)
  const mine = ++turn
  timer = window.setTimeout(async () => {
    try {
      const w = await ask(api.POST('/api/hours/read-week', { body: { text: text.value } }))
      if (mine !== turn) return
      history.mark()
      take(w, true)
    } catch (e) {
      if (mine === turn) unread.value = (e as Error).message
    }
  }, 180)
}
watch(() => stored.value?.rev, () => { if (draft.value) void paint() })
watch(() => draft.value?.week, async (w) => {
  if (!id || !w || !dirty.value) {
    effect.value = undefined
    return
  }
  try {
    effect.value = await ask(api.POST('/api/schedules/{id}/effect', { params: path, body: w }))
  } catch {
    effect.value = undefined
  }
})
onMounted(edit.reload)
onBeforeUnmount(() => clearTimeout(timer))

async function save() {
  if (unread.value) {
    problem.value = 'The typed hours are not understood yet; mend or undo them first.'
    return
  }
  if ((await edit.save()) && !id) void router.replace(`/hours/schedules/${stored.value!.value.id}`)
}
function discard() {
  if (!id) return void router.push('/hours')
  edit.discard()
  void paint()
}
async function remove() {
  if (!window.confirm(`Remove ${stored.value!.value.name}? History can bring it back.`)) return
  try {
    await ask(api.DELETE('/api/schedules/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    void router.push('/hours')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="Schedule">
    <template #title>
      <h1 v-if="stored?.value.fixed">{{ stored.value.name }}</h1>
      <input v-else-if="draft" v-model="draft.name" class="-ml-1.5 w-full max-w-md rounded-md border border-transparent bg-transparent px-1.5 text-[22px] font-bold hover:border-seam focus:border-seam focus:bg-paper" placeholder="Name of the schedule" aria-label="Name" :aria-invalid="!!fields.name" :autofocus="!id" />
    </template>
    <template #under>{{ stored?.value.fixed ? 'Always there; it cannot be edited' : 'Schedule: when those who have a level with it may come in' }}</template>
    <template v-if="!stored?.value.fixed" #actions><button class="btn" :disabled="!history.canUndo.value" title="Ctrl Z" @click="history.undo">Undo</button><button class="btn" :disabled="!history.canRedo.value" title="Ctrl Y" @click="history.redo">Redo</button><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <div v-if="!stored?.value.fixed" class="card mb-3">
        <textarea v-model="text" class="block w-full resize-y rounded-t-lg px-3.5 py-2.5 font-mono text-[13px]" rows="1" spellcheck="false" aria-label="Hours as text" placeholder="Mo-Fr 08:30-17:00; Sa 10:00-16:00" :aria-invalid="!!unread" @input="typed" />
        <p class="border-t border-seam px-3.5 py-1.5 text-[13px]"><span v-if="unread" role="alert" class="font-semibold text-wine">{{ unread }}</span><span v-else class="note">type or paint; each shows the other at once</span></p>
      </div>
      <div v-if="!stored?.value.fixed" class="mb-3 flex gap-2" role="radiogroup" aria-label="What to paint">
        <button role="radio" :aria-checked="open" class="btn" :class="open ? 'outline-2 outline-ink' : ''" @click="open = true"><span class="mode-open h-3 w-4 border border-ash/50" />Open</button>
        <button role="radio" :aria-checked="!open" class="btn" :class="open ? '' : 'outline-2 outline-ink'" @click="open = false"><span class="h-3 w-4 border border-ash/50 bg-lime" />Closed</button>
      </div>
      <section class="card"><WeekPainter :week="draft.week" :brush="open ? 'open' : 'card'" :readonly="stored?.value.fixed" @stroke="paint" @wipe="(s) => paint(s, false)" /></section>
    </template>
    <template #aside>
      <template v-if="dirty && !missing">
        <h2>What this edit does</h2>
        <div v-if="effect?.lines.length" class="card p-3 text-[13px] leading-relaxed">
          <p v-for="l in effect.lines" :key="l.words" :class="l.sign > 0 ? 'font-bold text-kelp' : l.sign < 0 ? 'font-bold text-wine' : ''">{{ l.words }}</p>
          <p class="mt-1">at {{ many(effect.doors.length, 'door', 'doors') }}<span class="note">: {{ effect.doors.map((d) => d.name).join(', ') || 'no level uses it' }}</span></p>
        </div>
        <p v-else class="note">{{ id ? 'The hours stay the same.' : 'A new schedule; levels can use it once it is saved.' }}</p>
      </template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" @save="save" @discard="discard" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]"><p class="row py-1.5">Open<span class="ml-auto font-mono">{{ duration(minutes) }}</span></p></div>
      <UsedBy v-if="id" :id="id" none="No access level uses it." />
    </template>
  </SheetFrame>
</template>
