<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Mode, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import CalendarLinks from '../../parts/CalendarLinks.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { duration, modeClass, modeName, modes } from '../../words'
import EffectCard from '../../parts/EffectCard.vue'
import PlaceYear from './PlaceYear.vue'
import RowLabel from './RowLabel.vue'
import RowTools from './RowTools.vue'
import SegmentBar from './SegmentBar.vue'
import TextHelp from './TextHelp.vue'
import WeekPainter from './WeekPainter.vue'
import { useTypes } from './types'
import { rowOf, useLines, useSheet } from './useEditor'
import { useWeek, type Piece, type Row } from './week'

const route = useRoute()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }
const blank: Schemas['Plan'] = { id: 0, name: '', default: 'card', week: Array.from({ length: 7 }, () => []) }

const edit = useDraft<Schemas['Plan']>(
  async () => {
    if (id) return ask(api.GET('/api/plans/{id}', { params: path }))
    if (!route.query.copy) return { rev: 0, value: blank }
    const from = (await ask(api.GET('/api/plans/{id}', { params: { path: { id: Number(route.query.copy) } } }))).value
    return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy` } }
  },
  (value, rev) => (id ? ask(api.PUT('/api/plans/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/plans', { body: value }))),
  () => sheet.save(),
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const { types, tint } = useTypes()
const levels = ref<{ id: number; name: string }[]>([])
const minutes = ref<Schemas['ModeMinutes'][]>([])
const notices = ref<string[]>([])
const brush = ref<Mode>('free')
const first = ref(false)
const keys: Record<string, Mode> = { f: 'free', c: 'card', p: 'card and PIN', b: 'barred', i: 'PIN', r: 'card or PIN' }

const week = useWeek<Schemas['Plan']>(
  draft, stored, dirty, problem,
  async (plan, s) => {
    const shown = await ask(api.POST('/api/hours/plan', { body: { plan, ...s } }))
    minutes.value = shown.minutes
    notices.value = shown.notices
    return { value: shown.plan, text: shown.text }
  },
  (plan) => ({ plan }),
)
const { lines, answerOf, at, chosen, piece, choose } = useLines(draft as never, types, (t) => t.plans, () => false)
const sheet = useSheet({
  id, base: '/hours/plans', copied: stored, unread: week.unread, problem, save: edit.save, discard: edit.discard, leave: edit.leave, show: week.stroke,
  remove: () => ask(api.DELETE('/api/plans/{id}', { params: { ...path, query: { rev: stored.value!.rev } } })),
})
const paint = (rows: Row[], period: { start: number; end: number }) =>
  week.stroke({ do: 'paint', rows, segment: { ...period, mode: brush.value, ...(first.value && brush.value === 'free' ? { first: true } : {}) } })
const wipe = (rows: Row[], p: { start: number; end: number }) => week.stroke({ do: 'paint', rows, was: { start: p.start, end: p.end } })
const stretch = (row: Row, was: Piece, to: { start: number; end: number }) =>
  week.stroke({ do: 'paint', rows: [row], was: { start: was.start, end: was.end }, segment: { ...was, ...to, mode: was.mode as Mode } })
async function set(p: Piece) {
  const line = chosen.value!.line
  await week.stroke({ do: 'paint', rows: [rowOf(lines.value[line]!.row)], was: { start: piece.value!.start, end: piece.value!.end }, segment: { ...p, mode: p.mode as Mode } })
  choose(line, p)
}
function gap() {
  const middle = Math.round((piece.value!.start + piece.value!.end) / 10) * 5
  const start = Math.max(piece.value!.start, middle - 15)
  void wipe([rowOf(lines.value[chosen.value!.line]!.row)], { start, end: start + Math.min(30, piece.value!.end - piece.value!.start) })
}
function otherwise(mode: Mode) {
  week.history.mark()
  draft.value!.default = mode
  void week.stroke({ do: 'show' })
}
function key(e: KeyboardEvent) {
  if (/INPUT|TEXTAREA|SELECT/.test((e.target as HTMLElement).tagName) || e.ctrlKey || e.metaKey || e.altKey) return
  const m = keys[e.key.toLowerCase()]
  if (m) brush.value = m
}
onMounted(async () => {
  void edit.reload()
  window.addEventListener('keydown', key)
  levels.value = (await ask(api.GET('/api/levels', { params: { query: { limit: 1000 } } }))).items.map((l) => ({ id: l.value.id, name: l.value.name }))
})
onBeforeUnmount(() => window.removeEventListener('keydown', key))
const answered = computed(() => draft.value?.holidays?.length ?? 0)
</script>

<template>
  <SheetFrame title="Passage plan">
    <template #title>
      <input v-if="draft" v-model="draft.name" class="-ml-1.5 w-full max-w-md rounded-md border border-transparent bg-transparent px-1.5 text-[22px] font-bold hover:border-seam focus:border-seam focus:bg-paper" placeholder="Name of the plan" aria-label="Name" :aria-invalid="!!fields.name" :autofocus="!id" />
    </template>
    <template #under>Passage plan<template v-if="types.length"> · {{ answered }} of {{ types.length }} holiday types answered</template></template>
    <template #actions>
      <button class="btn" :disabled="!week.history.canUndo.value" title="Ctrl Z" @click="week.history.undo">Undo</button><button class="btn" :disabled="!week.history.canRedo.value" title="Ctrl Y" @click="week.history.redo">Redo</button>
      <button v-if="id" class="btn" @click="sheet.duplicate">Duplicate</button><button v-if="id" class="btn" @click="sheet.remove">Remove</button>
    </template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <div class="card mb-3">
        <textarea v-model="week.text.value" class="block w-full resize-y rounded-t-lg px-3.5 py-2 font-mono text-[13px] leading-relaxed" rows="2" spellcheck="false" aria-label="Hours as text" placeholder="Mo-Fr 08:30-17:00 &quot;free&quot;, Mo-Su 22:00-06:00 &quot;barred&quot;" :aria-invalid="!!week.unread.value" @input="week.typed" />
        <div class="flex items-center gap-2 border-t border-seam px-3.5 py-1 text-[13px]">
          <span class="text-ash">otherwise</span>
          <select class="field w-auto! py-0.5" :value="draft.default" aria-label="Otherwise" @change="otherwise(($event.target as HTMLSelectElement).value as Mode)"><option v-for="m in modes" :key="m" :value="m">{{ m }}</option></select>
          <span v-if="week.unread.value" role="alert" class="font-semibold text-wine">{{ week.unread.value }}</span><span v-else-if="notices.length" class="text-wine">{{ notices[0] }}</span>
          <span v-else class="note">type or paint; each shows the other at once</span>
          <TextHelp plan class="ml-auto" />
        </div>
      </div>
      <div class="mb-3 flex flex-wrap items-center gap-1.5">
        <span class="flex flex-wrap gap-1.5" role="radiogroup" aria-label="What to paint"><button v-for="m in modes" :key="m" role="radio" :aria-checked="brush === m" class="btn px-2" :class="brush === m ? 'outline-2 outline-ink' : ''" @click="brush = m"><span class="h-3 w-4 border border-ash/50" :class="modeClass(m)" />{{ modeName(m) }} <span class="key">{{ Object.keys(keys).find((k) => keys[k] === m)?.toUpperCase() }}</span></button></span>
        <label v-if="brush === 'free'" class="flex items-center gap-1.5 text-[13px]"><input v-model="first" type="checkbox" /> after a first card</label>
        <span class="ml-auto flex gap-1.5"><RowTools :lines="lines" :at="at" @copy="(from, to) => week.stroke({ do: 'copy', from, rows: to })" @clear="(row) => week.stroke({ do: 'clear', rows: [row] })" /></span>
      </div>
      <section class="card">
        <WeekPainter :lines="lines" :otherwise="draft.default" :brush="brush" :chosen="chosen" @stroke="paint" @wipe="wipe" @stretch="stretch" @choose="choose" @at="(i) => (at = i)">
          <template #label="{ line, index }"><RowLabel :name="line.label" :holiday="line.row.typeId > 0" :at="index === at" :options="['as weekday', 'default mode', 'own']" :by-type="types.find((t) => t.id === line.row.typeId)?.plans ?? ''" :tint="tint(line.row.typeId)" :model-value="answerOf(line.row.typeId)" @update:model-value="(v) => week.stroke({ do: 'answer', typeId: line.row.typeId, answer: v })" /></template>
        </WeekPainter>
        <SegmentBar v-if="piece && chosen" :piece="piece" :label="lines[chosen.line]!.label" plan :levels="levels" @set="set" @gap="gap" @remove="wipe([rowOf(lines[chosen.line]!.row)], piece); choose(chosen.line)" @close="choose(chosen.line)" />
        <p v-else class="note border-t border-seam px-3.5 py-2 text-[12.5px]">Drag to paint, drag an edge to stretch, click a segment for its times, its first card or its levels.</p>
      </section>
      <PlaceYear v-if="types.length" legend class="mt-3" />
    </template>
    <template #aside>
      <template v-if="dirty && !missing"><h2>What this edit does</h2><EffectCard :effect="id ? week.effect.value : undefined" :none="id ? 'The hours stay the same.' : 'A new plan; doors follow it once it is chosen in their build.'" /></template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" @save="sheet.save" @discard="sheet.discard" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]"><p v-for="m in minutes" :key="m.mode" class="row py-1.5"><span class="h-3 w-4 border border-ash/50" :class="modeClass(m.mode)" />{{ modeName(m.mode) }}<span class="ml-auto font-mono">{{ duration(m.minutes) }}</span></p></div>
      <UsedBy v-if="id" :id="id" none="No door follows it." />
      <CalendarLinks v-if="id" :name="`plan-${id}`" />
    </template>
  </SheetFrame>
</template>
