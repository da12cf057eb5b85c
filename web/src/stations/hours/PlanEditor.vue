<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Mode, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { duration, many, modeClass, modeName, modes } from '../../words'
import { useUndo } from './undo'
import WeekPainter from './WeekPainter.vue'

type Stroke = { days: number[]; period: { start: number; end: number } }
const router = useRouter()
const route = useRoute()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }

const edit = useDraft<Schemas['Plan']>(
  async () => (id ? ask(api.GET('/api/plans/{id}', { params: path })) : { rev: 0, value: { id: 0, name: '', default: 'card' as const, week: Array.from({ length: 7 }, () => []) } }),
  (value, rev) => (id ? ask(api.PUT('/api/plans/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/plans', { body: value }))),
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const text = ref('')
const unread = ref('')
const notices = ref<string[]>([])
const minutes = ref<Schemas['ModeMinutes'][]>([])
const effect = ref<Schemas['Effect']>()
const brush = ref<Mode>('free')
const keys: Record<string, Mode> = { f: 'free', c: 'card', p: 'card and PIN', b: 'barred', i: 'PIN', r: 'card or PIN' }

const pattern = computed<Schemas['Pattern']>(() => ({ default: draft.value?.default ?? 'card', week: draft.value?.week ?? [] }))
const history = useUndo(
  () => pattern.value,
  (s) => { draft.value!.default = s.default; draft.value!.week = s.week; void paint() },
)
/** Takes what the server made of a text or a stroke; whichever was not typed follows. */
function take(p: Schemas['PlanText'], typed: boolean) {
  draft.value!.week = p.plan.week
  draft.value!.default = p.plan.default
  minutes.value = p.minutes
  notices.value = p.notices
  unread.value = ''
  if (!typed) text.value = p.text
}
async function paint(stroke?: Stroke, mode: Mode = brush.value) {
  if (stroke) history.mark()
  try {
    take(await ask(api.POST('/api/hours/paint-plan', { body: { plan: pattern.value, mode, stroke } })), false)
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
      const p = await ask(api.POST('/api/hours/read-plan', { body: { text: text.value, otherwise: draft.value!.default } }))
      if (mine !== turn) return
      history.mark()
      take(p, true)
    } catch (e) {
      if (mine === turn) unread.value = (e as Error).message
    }
  }, 180)
}
async function otherwise(mode: Mode) {
  history.mark()
  draft.value!.default = mode
  await paint()
}
watch(() => stored.value?.rev, () => { if (draft.value) void paint() })
watch(pattern, async (p) => {
  if (!id || !dirty.value) {
    effect.value = undefined
    return
  }
  try {
    effect.value = await ask(api.POST('/api/plans/{id}/effect', { params: path, body: p }))
  } catch {
    effect.value = undefined
  }
})
function key(e: KeyboardEvent) {
  if (/INPUT|TEXTAREA|SELECT/.test((e.target as HTMLElement).tagName) || e.ctrlKey || e.metaKey || e.altKey) return
  const m = keys[e.key.toLowerCase()]
  if (m) brush.value = m
}
onMounted(() => { void edit.reload(); window.addEventListener('keydown', key) })
onBeforeUnmount(() => { window.removeEventListener('keydown', key); clearTimeout(timer) })

async function save() {
  if (unread.value) {
    problem.value = 'The typed hours are not understood yet; mend or undo them first.'
    return
  }
  if ((await edit.save()) && !id) void router.replace(`/hours/plans/${stored.value!.value.id}`)
}
function discard() {
  if (!id) return void router.push('/hours')
  edit.discard()
  void paint()
}
async function remove() {
  if (!window.confirm(`Remove ${stored.value!.value.name}? History can bring it back.`)) return
  try {
    await ask(api.DELETE('/api/plans/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    void router.push('/hours')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="Passage plan">
    <template #title>
      <input v-if="draft" v-model="draft.name" class="-ml-1.5 w-full max-w-md rounded-md border border-transparent bg-transparent px-1.5 text-[22px] font-bold hover:border-seam focus:border-seam focus:bg-paper" placeholder="Name of the plan" aria-label="Name" :aria-invalid="!!fields.name" :autofocus="!id" />
    </template>
    <template #under>Passage plan: what the doors that follow it ask of everybody</template>
    <template #actions><button class="btn" :disabled="!history.canUndo.value" title="Ctrl Z" @click="history.undo">Undo</button><button class="btn" :disabled="!history.canRedo.value" title="Ctrl Y" @click="history.redo">Redo</button><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <div class="card mb-3">
        <textarea v-model="text" class="block w-full resize-y rounded-t-lg px-3.5 py-2.5 font-mono text-[13px] leading-relaxed" rows="2" spellcheck="false" aria-label="Hours as text" placeholder="Mo-Fr 08:30-17:00 &quot;free&quot;, Mo-Su 22:00-06:00 &quot;barred&quot;" :aria-invalid="!!unread" @input="typed" />
        <p class="flex items-center gap-2 border-t border-seam px-3.5 py-1.5 text-[13px]">
          <span class="text-ash">otherwise</span>
          <select class="field w-auto! py-0.5" :value="draft.default" aria-label="Otherwise" @change="otherwise(($event.target as HTMLSelectElement).value as Mode)"><option v-for="m in modes" :key="m" :value="m">{{ m }}</option></select>
          <span v-if="unread" role="alert" class="font-semibold text-wine">{{ unread }}</span><span v-else-if="notices.length" class="text-wine">{{ notices[0] }}</span>
          <span v-else class="note">type or paint; each shows the other at once</span>
        </p>
      </div>
      <div class="mb-3 flex flex-wrap gap-2" role="radiogroup" aria-label="What to paint">
        <button v-for="m in modes" :key="m" role="radio" :aria-checked="brush === m" class="btn" :class="brush === m ? 'outline-2 outline-ink' : ''" @click="brush = m"><span class="h-3 w-4 border border-ash/50" :class="modeClass(m)" />{{ modeName(m) }} <span class="key">{{ Object.keys(keys).find((k) => keys[k] === m)?.toUpperCase() }}</span></button>
      </div>
      <section class="card"><WeekPainter :week="draft.week" :otherwise="draft.default" :brush="brush" @stroke="paint" @wipe="(s) => paint(s, draft!.default)" /></section>
    </template>
    <template #aside>
      <template v-if="dirty && !missing">
        <h2>What this edit does</h2>
        <div v-if="effect?.lines.length" class="card p-3 text-[13px] leading-relaxed">
          <p v-for="l in effect.lines" :key="l.words" class="font-bold" :class="l.sign > 0 ? 'text-kelp' : 'text-wine'">{{ l.words }}</p>
          <p class="mt-1">at {{ many(effect.doors.length, 'door', 'doors') }}<span class="note">: {{ effect.doors.map((d) => d.name).join(', ') || 'none follows it' }}</span></p>
          <p v-if="effect.first" class="note mt-1">First differs {{ effect.first }}, once sent.</p>
        </div>
        <p v-else class="note">{{ id ? 'The hours stay the same.' : 'A new plan; doors follow it once it is chosen in their build.' }}</p>
      </template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" @save="save" @discard="discard" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]"><p v-for="m in minutes" :key="m.mode" class="row py-1.5"><span class="h-3 w-4 border border-ash/50" :class="modeClass(m.mode)" />{{ modeName(m.mode) }}<span class="ml-auto font-mono">{{ duration(m.minutes) }}</span></p></div>
      <UsedBy v-if="id" :id="id" none="No door follows it." />
    </template>
  </SheetFrame>
</template>
