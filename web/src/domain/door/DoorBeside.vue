<script setup lang="ts">
import { RouterLink } from 'vue-router'
import EffectCard from '../../ui/EffectCard.vue'
import FindingCard from '../../ui/FindingCard.vue'
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
    <h2>Who can come in</h2>
    <div class="card">
      <p v-if="!sheet.ways.length" class="p-3 text-[13px] text-ash">
        Nobody yet: no access level covers this door. Add it to a level in People.
      </p>
      <div v-for="w in sheet.ways" :key="`${w.levelId} ${w.scheduleId}`" class="row text-[13px]">
        <span class="min-w-0 flex-1"
          ><PeekName :id="w.levelId" kind="level" :name="w.level" /><span class="note block text-[12px]"
            ><PeekName :id="w.scheduleId" kind="schedule" :name="w.schedule" /></span></span
        ><b :title="`${w.people} people hold it`">{{ w.people }}</b>
      </div>
    </div>
  </template>
</template>
