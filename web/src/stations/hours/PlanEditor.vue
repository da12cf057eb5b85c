<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Mode, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useKeys } from '../../core/keys'
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
import { duration, modeClass, modeName, modes } from '../../words'
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
const blank: Schemas['Plan'] = { id: 0, name: '', default: 'card', week: Array.from({ length: 7 }, () => []) }

const edit = useSheet<Schemas['Plan']>({
  kind: 'plan',
  id: props.id,
  name: (p) => p.name,
  load: async (signal) => {
    if (props.id) return fetchObject('plan', props.id, signal)
    if (!route.query.copy) return { rev: 0, value: blank }
    const from = (await fetchObject('plan', Number(route.query.copy), signal)).value
    return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy` } }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/plans/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/plans', { body: value })),
  added: (v) => void (!props.id && router.replace(`/hours/plans/${v.value.id}`)),
  hinders: (): string => (week.unread.value ? 'The typed hours are not understood yet; mend or undo them first.' : ''),
})
const { draft, dirty, missing } = edit
const { types, tint, query: typesQuery } = useTypes()
const minutes = ref<Schemas['ModeMinutes'][]>([])
const notices = ref<string[]>([])
const brush = ref<Mode>('free')
const first = ref(false)
const keys: Record<string, Mode> = { f: 'free', c: 'card', p: 'card and PIN', b: 'barred', i: 'PIN', r: 'card or PIN' }

const week = useWeek<Schemas['Plan']>(
  edit,
  async (plan, s) => {
    const shown = await ask(api.POST('/api/hours/plan', { body: { plan, ...s } }))
    minutes.value = shown.minutes
    notices.value = shown.notices
    return { value: shown.plan, text: shown.text }
  },
  (plan) => ({ plan }),
)
const { lines, answerOf, at, chosen, piece, choose } = useLines(
  draft as never,
  types,
  (t) => t.plans,
  () => false,
)
const remove = useRemoval(edit, {
  kind: 'plan',
  id: props.id,
  follows: () => 'History can bring it back.',
  to: '/hours',
})
const duplicate = () => void router.push(`/hours/plans/new?copy=${props.id}`)
const paint = (rows: Row[], period: { start: number; end: number }) =>
  week.stroke({
    do: 'paint',
    rows,
    segment: { ...period, mode: brush.value, ...(first.value && brush.value === 'free' ? { first: true } : {}) },
  })
const wipe = (rows: Row[], p: { start: number; end: number }) =>
  week.stroke({ do: 'paint', rows, was: { start: p.start, end: p.end } })
const stretch = (row: Row, was: Piece, to: { start: number; end: number }) =>
  week.stroke({
    do: 'paint',
    rows: [row],
    was: { start: was.start, end: was.end },
    segment: { ...was, ...to, mode: was.mode as Mode },
  })
async function set(p: Piece) {
  const line = chosen.value!.line
  await week.stroke({
    do: 'paint',
    rows: [rowOf(lines.value[line]!.row)],
    was: { start: piece.value!.start, end: piece.value!.end },
    segment: { ...p, mode: p.mode as Mode },
  })
  choose(line, p)
}
function takeAway() {
  const line = chosen.value!.line
  void wipe([rowOf(lines.value[line]!.row)], piece.value!)
  choose(line)
}
const gap = () => void wipe([rowOf(lines.value[chosen.value!.line]!.row)], middleOf(piece.value!))
function otherwise(mode: Mode) {
  draft.value!.default = mode
}
useKeys(
  'A week',
  Object.entries(keys).map(([k, m]) => ({ keys: k, what: `Paint ${m}`, run: () => (brush.value = m) })),
)
const answered = computed(() => draft.value?.holidays?.length ?? 0)
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Passage plan' : 'New passage plan')">
    <template v-if="draft && !missing" #title
      ><FormField v-slot="f" of="Plan" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the plan"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under
      >Passage plan<template v-if="types.length">
        · {{ answered }} of {{ types.length }} holiday types answered</template
      ></template
    >
    <template #actions>
      <BesideNav v-if="id" :id="id" kind="plan" />
      <button v-if="id" class="btn" @click="duplicate">Duplicate</button
      ><button v-if="id" class="btn" @click="remove">Remove</button>
    </template>
    <StateBox
      v-if="!draft || missing || !typesQuery.data.value"
      :loading="!missing"
      :error="edit.query.error.value ?? typesQuery.error.value"
      :again="() => (typesQuery.error.value ? typesQuery.refetch() : edit.reload())"
      :rows="9"
      what="This plan"
    />
    <template v-else>
      <HoursText
        v-model="week.text.value"
        plan
        :unread="week.unread.value"
        :notice="notices[0]"
        placeholder='Mo-Fr 08:30-17:00 "free", Mo-Su 22:00-06:00 "barred"'
        @typed="week.typed"
        @left="week.flush"
      >
        <span class="text-ash">otherwise</span>
        <select
          class="field w-auto! py-0.5"
          :value="draft.default"
          aria-label="Otherwise"
          @change="otherwise(($event.target as HTMLSelectElement).value as Mode)"
        >
          <option v-for="m in modes" :key="m" :value="m">{{ m }}</option>
        </select>
      </HoursText>
      <div class="mb-3 flex flex-wrap items-center gap-1.5">
        <ChoiceBar
          v-slot="{ choice }"
          v-model="brush"
          label="What to paint"
          look="btn px-2"
          :choices="modes.map((m) => ({ value: m, name: modeName(m) }))"
          ><span class="h-3 w-4 border border-ash/50" :class="modeClass(choice.value)" />{{ choice.name }}
          <span class="key">{{
            Object.keys(keys)
              .find((k) => keys[k] === choice.value)
              ?.toUpperCase()
          }}</span></ChoiceBar
        >
        <label v-if="brush === 'free'" class="flex items-center gap-1.5 text-[13px]"
          ><input v-model="first" type="checkbox" /> after a first card</label
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
          :otherwise="draft.default"
          :brush="brush"
          :chosen="chosen"
          @stroke="paint"
          @wipe="wipe"
          @stretch="stretch"
          @choose="choose"
          @at="(i) => (at = i)"
        >
          <template #label="{ line, index }"
            ><RowLabel
              :name="line.label"
              :holiday="line.row.typeId > 0"
              :at="index === at"
              :options="['as weekday', 'default mode', 'own']"
              :by-type="types.find((t) => t.id === line.row.typeId)?.plans ?? ''"
              :tint="tint(line.row.typeId)"
              :model-value="answerOf(line.row.typeId)"
              @update:model-value="(v) => week.stroke({ do: 'answer', typeId: line.row.typeId, answer: v })"
          /></template>
        </WeekPainter>
        <SegmentBar
          v-if="piece && chosen"
          :piece="piece"
          :label="lines[chosen.line]!.label"
          plan
          @set="set"
          @gap="gap"
          @remove="takeAway"
          @close="choose(chosen.line)"
        />
        <p v-else class="note border-t border-seam px-3.5 py-2 text-[12.5px]">
          Drag to paint, drag an edge to stretch, click a segment for its times, its first card or its levels.
        </p>
      </section>
      <PlaceYear v-if="types.length" legend class="mt-3" />
    </template>
    <template #aside>
      <template v-if="dirty && !missing"
        ><h2>What this edit does</h2>
        <EffectCard
          :effect="id ? week.effect.value : undefined"
          :none="id ? 'The hours stay the same.' : 'A new plan; doors follow it once it is chosen in their build.'"
      /></template>
      <SheetSave :sheet="edit" of="Plan" :fresh="!id" :discard="id ? edit.discard : () => edit.leave('/hours')" />
      <h2>Hours a week</h2>
      <div class="card text-[13px]">
        <p v-for="m in minutes" :key="m.mode" class="row py-1.5">
          <span class="h-3 w-4 border border-ash/50" :class="modeClass(m.mode)" />{{ modeName(m.mode)
          }}<span class="ml-auto font-mono">{{ duration(m.minutes) }}</span>
        </p>
      </div>
      <UsedBy v-if="id" :id="id" none="No door follows it." />
      <CalendarLinks v-if="id" :name="`plan-${id}`" />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
