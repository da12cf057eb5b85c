<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'
import { many } from '../../words'
import EffectCard from '../../ui/EffectCard.vue'
import FindingCard from '../../ui/FindingCard.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import PeekName from '../../ui/PeekName.vue'
import SheetSave from '../../ui/SheetSave.vue'
import { useConsequence } from '../../ui/consequence'
import BenchAnswer from './BenchAnswer.vue'
import type { DoorHere } from './useDoor'

/** Beside a door: what an edit does, what is not sent, findings, and who can come in. */
const props = defineProps<{ id: number; door: DoorHere; station: string }>()
const { edit, sheet, nameOf, changes } = props.door
const { draft, stored, dirty } = edit

/** What other hours do that the door would follow: another plan, floor or controller. */
const effect = useConsequence(() => {
  const [a, b] = [stored.value?.value, draft.value]
  return props.id && a && b && (a.planId !== b.planId || a.floorId !== b.floorId || a.controllerId !== b.controllerId)
    ? { door: b }
    : undefined
})
/** A new door: what leads there as soon as it is added. */
const ways = useComputed(
  'ways of what is added',
  () => [draft.value?.floorId],
  (signal) => ask(api.GET('/api/floors/{id}/ways', { params: { path: { id: draft.value?.floorId ?? 0 } }, signal })),
  () => !props.id && !!draft.value?.floorId,
)
const added = computed(() => ways.data.value ?? [])
</script>

<template>
  <BenchAnswer v-if="station === 'prove'" />
  <template v-if="(dirty || !id) && draft && !edit.missing.value">
    <h2>What this edit does</h2>
    <div v-if="changes.length" class="card p-3 text-[13px]">
      <p v-for="c in changes" :key="c.what" class="py-0.5">
        {{ c.what }} <b>{{ c.was }}</b> → <b>{{ c.is }}</b>
      </p>
      <p class="note mt-1">1 door; takes effect when sent to {{ nameOf(draft.controllerId) }}.</p>
    </div>
    <EffectCard v-if="effect" :effect="effect" none="" />
    <p v-else-if="!id" class="note">
      Adds a door to {{ draft.controllerId ? nameOf(draft.controllerId) : 'a controller' }}; it works once sent.
    </p>
    <div v-if="added.length && !id" class="card" aria-label="Who comes in as soon as it is added">
      <p class="p-3 pb-1 text-[13px]">
        Already leads here, as it takes in what is added later; leave the door out there where it is not meant.
      </p>
      <div v-for="w in added" :key="`${w.levelId} ${w.scheduleId}`" class="row text-[13px]">
        <span class="min-w-0 flex-1"
          ><PeekName v-if="w.levelId > 0" :id="w.levelId" kind="level" :name="w.level" /><b v-else>{{ w.level }}</b
          ><span class="note block text-[12px]">{{ w.schedule }}</span></span
        ><b>{{ many(w.people, 'person', 'people') }}</b>
      </div>
    </div>
  </template>
  <SheetSave
    :sheet="edit"
    of="Door"
    :fresh="!id"
    :save-label="id ? 'Save' : 'Add the door'"
    :discard="id ? edit.discard : () => edit.leave('/build')"
  />
  <template v-if="sheet && station !== 'prove'">
    <template v-if="sheet.unsent.length">
      <h2>Not sent yet</h2>
      <div class="card p-3 text-[13px]">
        <p v-for="c in sheet.unsent.slice(0, 6)" :key="c.words" class="py-0.5">{{ c.words }}</p>
        <p v-if="sheet.unsent.length > 6" class="note">and {{ sheet.unsent.length - 6 }} more</p>
        <RouterLink to="/send" class="underline">Go to Send</RouterLink>
      </div>
    </template>
    <template v-if="sheet.findings.length"
      ><h2>Findings</h2>
      <FindingCard v-for="f in sheet.findings" :key="f.code + f.id" :finding="f"
    /></template>
    <h2>{{ stored?.value.car ? 'Who reaches what' : 'Who can come in' }}</h2>
    <div class="card">
      <p v-if="!sheet.ways.length" class="p-3 text-[13px] text-ash">
        Nobody yet: no access level covers this door. Add it to a level in People.
      </p>
      <div v-for="w in sheet.ways" :key="`${w.levelId} ${w.scheduleId}`" class="row text-[13px]">
        <span class="min-w-0 flex-1"
          ><PeekName v-if="w.levelId > 0" :id="w.levelId" kind="level" :name="w.level" /><b v-else>{{ w.level }}</b
          ><span v-if="w.floors" class="block text-[12px]">{{ w.floors }}</span
          ><span class="note block text-[12px]"
            ><PeekName :id="w.scheduleId" kind="schedule" :name="w.schedule" /></span></span
        ><b :title="`${w.people} people hold it`">{{ w.people }}</b>
      </div>
    </div>
  </template>
  <HistoryCard v-if="id && sheet && station !== 'prove'" :id="id" folded />
</template>
