<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useRemoval } from '../../ui/removal'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import CalendarLinks from '../../ui/CalendarLinks.vue'
import BesideNav from '../../ui/BesideNav.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { duration } from '../../words'
import EffectCard from '../../ui/EffectCard.vue'
import PlaceYear from './PlaceYear.vue'
import RowLabel from './RowLabel.vue'
import RowTools from './RowTools.vue'
import SegmentBar from './SegmentBar.vue'
import HoursText from './HoursText.vue'
import WeekPainter from './WeekPainter.vue'
import { useTypes } from './types'
import { middleOf, rowOf, useLines } from './useEditor'
import { useWeek, type Piece, type Row } from './week'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
const blank: Schemas['Schedule'] = { id: 0, name: '', week: Array.from({ length: 7 }, () => []) }

const edit = useSheet<Schemas['Schedule']>({
  kind: 'schedule',
  id: props.id,
  name: (p) => p.name,
  load: async (signal) => {
    if (props.id) return fetchObject('schedule', props.id, signal)
    if (!route.query.copy) return { rev: 0, value: blank }
    const from = (await fetchObject('schedule', Number(route.query.copy), signal)).value
    return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy`, fixed: false } }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/schedules/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/schedules', { body: value })),
  added: (v) => void (!props.id && router.replace(`/hours/schedules/${v.value.id}`)),
  hinders: (): string => (week.unread.value ? 'The typed hours are not understood yet; mend or undo them first.' : ''),
})
const { draft, stored, dirty, missing } = edit
const { types, tint, query: typesQuery } = useTypes()
const minutes = ref(0)
const notices = ref<string[]>([])
const open = ref(true)

const week = useWeek<Schemas['Schedule']>(
  edit,
  async (schedule, s) => {
    const shown = await ask(api.POST('/api/hours/schedule', { body: { schedule, ...s } }))
    minutes.value = shown.minutes
    notices.value = shown.notices
    return { value: shown.schedule, text: shown.text }
  },
  (schedule) => ({ schedule }),
)
const { lines, answerOf, at, chosen, piece, choose } = useLines(
  draft as never,
  types,
  (t) => t.schedules,
  () => !!stored.value?.value.fixed,
)
const remove = useRemoval(edit, {
  kind: 'schedule',
  id: props.id,
  follows: () => 'History can bring it back.',
  to: '/hours',
})
const duplicate = () => void router.push(`/hours/schedules/new?copy=${props.id}`)
const paint = (rows: Row[], p: { start: number; end: number }, isOpen = open.value) =>
  week.stroke({ do: 'paint', rows, period: { start: p.start, end: p.end }, open: isOpen })
const move = (row: Row, was: Piece, to: { start: number; end: number }) =>
  week.stroke({
    do: 'paint',
    rows: [row],
    was: { start: was.start, end: was.end },
    period: { start: to.start, end: to.end },
    open: true,
  })
async function set(p: Piece) {
  const line = chosen.value!.line
  await move(rowOf(lines.value[line]!.row), piece.value!, p)
  choose(line, p)
}
function takeAway() {
  const line = chosen.value!.line
  void paint([rowOf(lines.value[line]!.row)], piece.value!, false)
  choose(line)
}
const gap = () => void paint([rowOf(lines.value[chosen.value!.line]!.row)], middleOf(piece.value!), false)
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Schedule' : 'New schedule')">
    <template v-if="draft && !missing && !stored?.value.fixed" #title
      ><FormField v-slot="f" of="Schedule" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the schedule"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under>{{
      stored?.value.fixed
        ? 'Always there, the same on holidays; it cannot be edited'
        : 'Schedule: when those who have a level with it may come in'
    }}</template>
    <template #actions>
      <BesideNav v-if="id" :id="id" kind="schedule" />
      <button v-if="id" class="btn" @click="duplicate">Duplicate</button
      ><button v-if="id && !stored?.value.fixed" class="btn" @click="remove">Remove</button>
    </template>
    <StateBox
      v-if="!draft || missing || !typesQuery.data.value"
      :loading="!missing"
      :error="edit.query.error.value ?? typesQuery.error.value"
      :again="() => (typesQuery.error.value ? typesQuery.refetch() : edit.reload())"
      :rows="9"
      what="This schedule"
    />
    <template v-else>
      <HoursText
        v-if="!stored?.value.fixed"
        v-model="week.text.value"
        :unread="week.unread.value"
        :notice="notices[0]"
        placeholder="Mo-Fr 08:30-17:00; Sa 10:00-16:00; PH off"
        @typed="week.typed"
        @left="week.flush"
      />
      <div v-if="!stored?.value.fixed" class="mb-3 flex items-center gap-1.5">
        <ChoiceBar
          v-slot="{ choice }"
          v-model="open"
          label="What to paint"
          look="btn"
          :choices="[
            { value: true, name: 'Open' },
            { value: false, name: 'Closed' },
          ]"
          ><span class="h-3 w-4 border border-ash/50" :class="choice.value ? 'mode-open' : 'bg-lime'" />{{
            choice.name
          }}</ChoiceBar
        >
        <span class="ml-auto flex gap-1.5"
          ><RowTools
            :lines="lines"
            :at="at"
            @copy="(from, to) => week.stroke({ do: 'copy', from, rows: to })"
            @clear="(row) => week.stroke({ do: 'clear', rows: [row] })"
        /></span>
      </div>
      <section class="card">
        <WeekPainter
          :lines="lines"
          :brush="open ? 'open' : 'card'"
          :readonly="stored?.value.fixed"
          :chosen="chosen"
          @stroke="(r, p) => paint(r, p)"
          @wipe="(r, p) => paint(r, p, false)"
          @stretch="move"
          @choose="choose"
          @at="(i) => (at = i)"
        >
          <template #label="{ line, index }"
            ><RowLabel
              :name="line.label"
              :holiday="line.row.typeId > 0"
              :at="index === at && !stored?.value.fixed"
              :options="['as weekday', 'closed', 'own']"
              :by-type="types.find((t) => t.id === line.row.typeId)?.schedules ?? ''"
              :tint="tint(line.row.typeId)"
              :model-value="answerOf(line.row.typeId)"
              @update:model-value="(v) => week.stroke({ do: 'answer', typeId: line.row.typeId, answer: v })"
          /></template>
        </WeekPainter>
        <SegmentBar
          v-if="piece && chosen"
          :piece="piece"
          :label="lines[chosen.line]!.label"
          @set="set"
          @gap="gap"
          @remove="takeAway"
          @close="choose(chosen.line)"
        />
        <p v-else-if="!stored?.value.fixed" class="note border-t border-seam px-3.5 py-2 text-[12.5px]">
          Drag to paint, drag an edge to stretch, click a period for its times.
        </p>
      </section>
      <PlaceYear v-if="types.length && !stored?.value.fixed" legend class="mt-3" />
    </template>
    <template #aside>
      <template v-if="dirty && !missing"
        ><h2>What this edit does</h2>
        <EffectCard
          :effect="id ? week.effect.value : undefined"
          :none="id ? 'The hours stay the same.' : 'A new schedule; levels can use it once it is saved.'"
      /></template>
      <SheetSave :sheet="edit" of="Schedule" :fresh="!id" :discard="id ? edit.discard : () => edit.leave('/hours')" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]">
        <p class="row py-1.5">
          Open<span class="ml-auto font-mono">{{ duration(minutes) }}</span>
        </p>
      </div>
      <UsedBy v-if="id" :id="id" none="No access level uses it." />
      <CalendarLinks v-if="id" :name="`schedule-${id}`" />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
