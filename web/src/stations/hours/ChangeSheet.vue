<script setup lang="ts">
import { inClock } from '../../clock'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Mode, type Schemas } from '../../api/client'
import { addDays } from '../../dates'
import { fetchObject } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useRemoval } from '../../ui/removal'
import CalendarLinks from '../../ui/CalendarLinks.vue'
import FormField from '../../ui/FormField.vue'
import RealWeek from '../../ui/RealWeek.vue'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DateField from '../../ui/DateField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import TimeField from '../../ui/TimeField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { removalWords } from '../../ui/consequence'
import { sure } from '../../ui/sure'
import { useSite } from '../../core/site'
import { many, modeClass, modeName, modes } from '../../words'
import EffectCard from '../../ui/EffectCard.vue'
import RulePicker from './RulePicker.vue'
import ChangeWhere from './ChangeWhere.vue'
import { useChangePreview } from './changePreview'

const props = defineProps<{ id: number }>()
const site = useSite()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['DatedChange']>({
  kind: 'dated change',
  id: props.id,
  name: (c) => c.name,
  load: async (signal) => {
    if (props.id) return fetchObject('dated change', props.id, signal)
    if (route.query.copy) {
      const from = (await fetchObject('dated change', Number(route.query.copy), signal)).value
      return { rev: 0, value: { ...from, id: 0, name: `${from.name}, copy`, ended: '' } }
    }
    const day = String(route.query.date ?? site.today(Number(route.query.door)))
    const doorIds = String(route.query.doors ?? route.query.door ?? '')
      .split(',')
      .map(Number)
      .filter(Boolean)
    return {
      rev: 0,
      value: {
        id: 0,
        name: '',
        mode: 'free' as Mode,
        doorIds,
        floorIds: [],
        siteIds: [],
        setIds: [],
        from: `${day}T17:00`,
        until: `${day}T21:00`,
        recurs: '',
      },
    }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/dated-changes/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/dated-changes', { body: value })),
  added: (v) => void (!props.id && router.replace(`/hours/changes/${v.value.id}`)),
})
edit.place((path) => path === 'doorIds')
const { draft, stored, dirty, problem, fields, missing, phase } = edit
const { rule, preview, effect, said, wrong, ruleProblem, week, restart } = useChangePreview(edit)
const part = (key: 'from' | 'until', which: 'date' | 'time') =>
  computed({
    get: () => (which === 'date' ? (draft.value?.[key] ?? '').slice(0, 10) : (draft.value?.[key] ?? '').slice(11)),
    set: (v: string) => {
      const now = draft.value![key]
      draft.value![key] = which === 'date' ? `${v.trim()}T${now.slice(11)}` : `${now.slice(0, 10)}T${v.trim()}`
      // An evening that moves takes its end along.
      if (key === 'from' && which === 'date' && draft.value!.until.slice(0, 10) < v.trim())
        draft.value!.until = `${v.trim()}T${draft.value!.until.slice(11)}`
    },
  })
const fromDate = part('from', 'date')
const fromTime = part('from', 'time')
const untilDate = part('until', 'date')
const untilTime = part('until', 'time')

const leaveOut = (d: string) => {
  draft.value!.except = [...(draft.value!.except ?? []), d].sort()
}
const takeIn = (d: string) => {
  draft.value!.except = draft.value!.except!.filter((x) => x !== d)
}
function discard() {
  if (!props.id) return edit.leave('/hours/changes')
  edit.discard()
  restart()
}
const remove = useRemoval(edit, {
  kind: 'dated change',
  id: props.id,
  follows: async () => `${await removalWords(props.id)}History can bring it back.`,
  to: '/hours/changes',
})
async function end() {
  if (
    !(await sure(
      `End ${stored.value!.value.name} now?`,
      `From this minute on it no longer holds, at ${many(preview.value?.count ?? 0, 'door', 'doors')}, once sent. History can bring it back.`,
      'End it',
    ))
  )
    return
  try {
    await ask(api.POST('/api/dated-changes/{id}/end', { params: path }))
    await edit.reload()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
function step(byDays: number) {
  week.value = addDays(preview.value!.week, byDays)
}
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Dated change' : 'New dated change')">
    <template #under>Dated change: above holidays and plans</template>
    <template #actions
      ><button class="btn" @click="router.push('/hours/changes')">All dated changes</button
      ><button v-if="id" class="btn" @click="router.push(`/hours/changes/new?copy=${id}`)">Copy</button
      ><button v-if="id && !draft?.ended" class="btn" @click="end">End now</button
      ><button v-if="id" class="btn" @click="remove">Remove</button></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="9"
      what="This dated change"
    />
    <template v-if="draft && !missing">
      <div class="mb-3 grid grid-cols-[minmax(0,1fr)_236px] gap-3 max-xl:grid-cols-1">
        <form class="card space-y-3 self-start p-4" @submit.prevent="edit.save">
          <FormField v-slot="f" of="DatedChange" field="name"
            ><input v-model="draft.name" v-bind="f.bind" class="field" placeholder="Lantern evening" :autofocus="!id"
          /></FormField>
          <fieldset>
            <legend class="label mb-1">The doors are</legend>
            <ChoiceBar
              v-slot="{ choice }"
              v-model="draft.mode"
              label="The doors are"
              class="grid-cols-3"
              wide
              look="btn justify-start px-2 text-[13px]"
              :choices="modes.map((m) => ({ value: m, name: modeName(m) }))"
              ><span class="h-3 w-4 border border-ash/50" :class="modeClass(choice.value)" />{{
                choice.name
              }}</ChoiceBar
            >
          </fieldset>
          <div class="flex flex-wrap items-center gap-1.5">
            <span class="label">From</span
            ><DateField v-model="fromDate" label="From date" :invalid="!!(fields.from || wrong.from)" /><TimeField
              v-model="fromTime"
              label="From time"
              :invalid="!!(fields.from || wrong.from)"
            /><span class="label">until</span
            ><DateField v-model="untilDate" label="Until date" :invalid="!!(fields.until || wrong.until)" /><TimeField
              v-model="untilTime"
              label="Until time"
              :invalid="!!(fields.until || wrong.until)"
            />
          </div>
          <template v-if="preview || said">
            <RulePicker v-model="rule" :from="draft.from" :problem="ruleProblem" />
            <p v-if="draft.recurs || draft.except?.length" class="text-[13px]">
              <span class="text-ash">Left out:</span>
              <template v-for="d in draft.except" :key="d"
                >{{ ' ' }}<span class="font-mono">{{ d }}</span
                ><button
                  type="button"
                  class="mr-2 ml-0.5 rounded px-1 text-ash underline hover:bg-seam"
                  :aria-label="`Take ${d} in again`"
                  @click="takeIn(d)"
                >
                  take in again
                </button></template
              ><template v-if="!draft.except?.length">{{ ' ' }}no date</template>
            </p>
            <p v-if="said" role="alert" class="text-[13px] font-semibold text-wine">{{ said }}</p>
            <p v-else-if="preview" class="border-l-4 border-violet py-0.5 pl-3 text-[13px]">
              <b
                >{{ modeName(draft.mode) }} {{ inClock(draft.from.slice(11)) }}–{{ inClock(draft.until.slice(11)) }},
                {{ preview.words }}.</b
              >
              <template v-if="preview.next.length"
                >Next:
                <span v-for="(d, i) in preview.days" :key="d" class="mr-1.5 whitespace-nowrap"
                  >{{ preview.next[i]
                  }}<button
                    v-if="draft.recurs"
                    type="button"
                    class="ml-0.5 rounded px-1 text-ash hover:bg-seam"
                    :aria-label="`Leave out ${preview.next[i]}`"
                    title="Leave this date out"
                    @click="leaveOut(d)"
                  >
                    ×
                  </button></span
                ></template
              ><template v-else>No date is to come.</template
              ><template v-if="draft.ended"> Ended early, {{ draft.ended.replace('T', ' ') }}.</template>
            </p>
          </template>
        </form>
        <ChangeWhere v-model="draft" :preview="preview" @failed="(words) => (problem = words)" />
      </div>
      <p v-if="fields.doorIds" data-wrong class="mb-2 font-semibold text-wine">{{ fields.doorIds }}</p>
      <section v-if="preview?.doors.length && !said" class="card">
        <div class="card-head py-1.5">
          <h2>The week of {{ preview.week }} with this change</h2>
          <span class="flex gap-1"
            ><button class="btn px-2 py-0.5" aria-label="Week before" @click="step(-7)">‹</button
            ><button class="btn px-2 py-0.5" :disabled="!week" @click="week = ''">Its next</button
            ><button class="btn px-2 py-0.5" aria-label="Week after" @click="step(7)">›</button></span
          >
        </div>
        <div v-for="d in preview.doors" :key="d.id" class="border-t border-seam first:border-t-0">
          <p class="px-3.5 pt-2 text-[13px] font-bold">{{ d.name }}</p>
          <RealWeek tight :week="d.week" />
        </div>
        <p v-if="preview.count > preview.doors.length" class="note px-3.5 pb-2">
          and {{ preview.count - preview.doors.length }} more doors
        </p>
      </section>
    </template>
    <template #aside>
      <template v-if="(dirty || !id) && !missing"
        ><h2>What this does</h2>
        <EffectCard
          :effect="effect"
          :none="
            said
              ? 'Mend what is wrong first; what it does stands here.'
              : 'Choose doors, a floor, a site or a door set; what it does stands here.'
          "
      /></template>
      <SheetSave
        :sheet="edit"
        of="DatedChange"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the change'"
        :discard="discard"
      />
      <p v-if="id && !dirty" class="note">
        It stands above holidays and plans. Where another change meets it at a door, the one made later decides.
      </p>
      <CalendarLinks v-if="id" name="changes" />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
