<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import CalendarLinks from '../../parts/CalendarLinks.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { duration } from '../../words'
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
const blank: Schemas['Schedule'] = { id: 0, name: '', week: Array.from({ length: 7 }, () => []) }

const edit = useDraft<Schemas['Schedule']>(
  async () => {
    if (id) return ask(api.GET('/api/schedules/{id}', { params: path }))
    if (!route.query.copy) return { rev: 0, value: blank }
    const from = (await ask(api.GET('/api/schedules/{id}', { params: { path: { id: Number(route.query.copy) } } }))).value
    return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy`, fixed: false } }
  },
  (value, rev) => (id ? ask(api.PUT('/api/schedules/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/schedules', { body: value }))),
  () => sheet.save(),
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const { types, tint } = useTypes()
const minutes = ref(0)
const notices = ref<string[]>([])
const open = ref(true)

const week = useWeek<Schemas['Schedule']>(
  draft, stored, dirty, problem,
  async (schedule, s) => {
    const shown = await ask(api.POST('/api/hours/schedule', { body: { schedule, ...s } }))
    minutes.value = shown.minutes
    notices.value = shown.notices
    return { value: shown.schedule, text: shown.text }
  },
  (schedule) => ({ schedule }),
)
const { lines, answerOf, at, chosen, piece, choose } = useLines(draft as never, types, (t) => t.schedules, () => !!stored.value?.value.fixed)
const sheet = useSheet({
  id, base: '/hours/schedules', copied: stored, unread: week.unread, problem, save: edit.save, discard: edit.discard, leave: edit.leave, show: week.stroke,
  remove: () => ask(api.DELETE('/api/schedules/{id}', { params: { ...path, query: { rev: stored.value!.rev } } })),
})
const paint = (rows: Row[], p: { start: number; end: number }, isOpen = open.value) => week.stroke({ do: 'paint', rows, period: { start: p.start, end: p.end }, open: isOpen })
const move = (row: Row, was: Piece, to: { start: number; end: number }) =>
  week.stroke({ do: 'paint', rows: [row], was: { start: was.start, end: was.end }, period: { start: to.start, end: to.end }, open: true })
async function set(p: Piece) {
  const line = chosen.value!.line
  await move(rowOf(lines.value[line]!.row), piece.value!, p)
  choose(line, p)
}
function gap() {
  const middle = Math.round((piece.value!.start + piece.value!.end) / 10) * 5
  const start = Math.max(piece.value!.start, middle - 15)
  void paint([rowOf(lines.value[chosen.value!.line]!.row)], { start, end: start + Math.min(30, piece.value!.end - piece.value!.start) }, false)
}
onMounted(edit.reload)
</script>

<template>
  <SheetFrame title="Schedule">
    <template #title>
      <h1 v-if="stored?.value.fixed">{{ stored.value.name }}</h1>
      <input v-else-if="draft" v-model="draft.name" class="-ml-1.5 w-full max-w-md rounded-md border border-transparent bg-transparent px-1.5 text-[22px] font-bold hover:border-seam focus:border-seam focus:bg-paper" placeholder="Name of the schedule" aria-label="Name" :aria-invalid="!!fields.name" :autofocus="!id" />
    </template>
    <template #under>{{ stored?.value.fixed ? 'Always there, the same on holidays; it cannot be edited' : 'Schedule: when those who have a level with it may come in' }}</template>
    <template #actions>
      <template v-if="!stored?.value.fixed"><button class="btn" :disabled="!week.history.canUndo.value" title="Ctrl Z" @click="week.history.undo">Undo</button><button class="btn" :disabled="!week.history.canRedo.value" title="Ctrl Y" @click="week.history.redo">Redo</button></template>
      <button v-if="id" class="btn" @click="sheet.duplicate">Duplicate</button><button v-if="id && !stored?.value.fixed" class="btn" @click="sheet.remove">Remove</button>
    </template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <div v-if="!stored?.value.fixed" class="card mb-3">
        <textarea v-model="week.text.value" class="block w-full resize-y rounded-t-lg px-3.5 py-2 font-mono text-[13px]" rows="1" spellcheck="false" aria-label="Hours as text" placeholder="Mo-Fr 08:30-17:00; Sa 10:00-16:00; PH off" :aria-invalid="!!week.unread.value" @input="week.typed" />
        <div class="flex items-center gap-2 border-t border-seam px-3.5 py-1 text-[13px]"><span v-if="week.unread.value" role="alert" class="font-semibold text-wine">{{ week.unread.value }}</span><span v-else-if="notices.length" class="text-wine">{{ notices[0] }}</span><span v-else class="note">type or paint; each shows the other at once</span><TextHelp class="ml-auto" /></div>
      </div>
      <div v-if="!stored?.value.fixed" class="mb-3 flex items-center gap-1.5">
        <span class="flex gap-1.5" role="radiogroup" aria-label="What to paint"><button role="radio" :aria-checked="open" class="btn" :class="open ? 'outline-2 outline-ink' : ''" @click="open = true"><span class="mode-open h-3 w-4 border border-ash/50" />Open</button>
        <button role="radio" :aria-checked="!open" class="btn" :class="open ? '' : 'outline-2 outline-ink'" @click="open = false"><span class="h-3 w-4 border border-ash/50 bg-lime" />Closed</button></span>
        <span class="ml-auto flex gap-1.5"><RowTools :lines="lines" :at="at" @copy="(from, to) => week.stroke({ do: 'copy', from, rows: to })" @clear="(row) => week.stroke({ do: 'clear', rows: [row] })" /></span>
      </div>
      <section class="card">
        <WeekPainter :lines="lines" :brush="open ? 'open' : 'card'" :readonly="stored?.value.fixed" :chosen="chosen" @stroke="(r, p) => paint(r, p)" @wipe="(r, p) => paint(r, p, false)" @stretch="move" @choose="choose" @at="(i) => (at = i)">
          <template #label="{ line, index }"><RowLabel :name="line.label" :holiday="line.row.typeId > 0" :at="index === at && !stored?.value.fixed" :options="['as weekday', 'closed', 'own']" :by-type="types.find((t) => t.id === line.row.typeId)?.schedules ?? ''" :tint="tint(line.row.typeId)" :model-value="answerOf(line.row.typeId)" @update:model-value="(v) => week.stroke({ do: 'answer', typeId: line.row.typeId, answer: v })" /></template>
        </WeekPainter>
        <SegmentBar v-if="piece && chosen" :piece="piece" :label="lines[chosen.line]!.label" :levels="[]" @set="set" @gap="gap" @remove="paint([rowOf(lines[chosen.line]!.row)], piece, false); choose(chosen.line)" @close="choose(chosen.line)" />
        <p v-else-if="!stored?.value.fixed" class="note border-t border-seam px-3.5 py-2 text-[12.5px]">Drag to paint, drag an edge to stretch, click a period for its times.</p>
      </section>
      <PlaceYear v-if="types.length && !stored?.value.fixed" legend class="mt-3" />
    </template>
    <template #aside>
      <template v-if="dirty && !missing"><h2>What this edit does</h2><EffectCard :effect="id ? week.effect.value : undefined" :none="id ? 'The hours stay the same.' : 'A new schedule; levels can use it once it is saved.'" /></template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" @save="sheet.save" @discard="sheet.discard" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]"><p class="row py-1.5">Open<span class="ml-auto font-mono">{{ duration(minutes) }}</span></p></div>
      <UsedBy v-if="id" :id="id" none="No access level uses it." />
      <CalendarLinks v-if="id" :name="`schedule-${id}`" />
    </template>
  </SheetFrame>
</template>
