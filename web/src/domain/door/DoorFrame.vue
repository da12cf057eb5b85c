<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import DoorPortrait from '../../ui/DoorPortrait.vue'
import PeekName from '../../ui/PeekName.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import StrongText from '../../ui/StrongText.vue'
import DoorBeside from './DoorBeside.vue'
import DoorBench from './DoorBench.vue'
import DoorCourse from './DoorCourse.vue'
import DoorForm from './DoorForm.vue'
import DoorHours from './DoorHours.vue'
import DoorRules from './DoorRules.vue'
import DoorWeek from './DoorWeek.vue'
import ElevatorBuild from '../elevator/ElevatorBuild.vue'
import FirstCardForm from '../../ui/FirstCardForm.vue'
import { useCourse } from './course'
import { momentWords } from './moment'
import { useDoor } from './useDoor'

/** A door: one header, and a body for each station that looks at it. */
const props = defineProps<{ id: number; station: 'build' | 'hours' | 'rules' | 'prove' }>()

const route = useRoute()
const door = useDoor(props.id)
const { edit, sheet, moment, here, nameOf } = door
const { draft, stored, missing, phase } = edit

const course = useCourse(draft, () => props.station === 'build' && !draft.value?.car)
const place = computed(() => (here.value ? `${here.value.site}, ${here.value.floor}` : 'A new door'))
const then = computed(() => (moment.value ? momentWords(sheet.value?.at ?? moment.value) : ''))
const state = computed(() => ({
  released: sheet.value?.released ?? false,
  open: sheet.value?.open ?? false,
  alarm: sheet.value?.alarm,
}))

const remove = useRemoval(edit, {
  kind: 'door',
  id: props.id,
  follows: () => 'Its controller forgets it with the next send. History can bring it back.',
  to: '/build',
})
</script>

<template>
  <SheetFrame
    :title="
      id
        ? station === 'prove'
          ? `Bench: ${here?.name ?? draft?.name ?? ''}`
          : draft?.name || here?.name || 'Door'
        : draft?.name || 'New door'
    "
  >
    <template #under>
      <span v-if="id && stored" class="flex items-baseline gap-x-1.5 whitespace-nowrap max-md:flex-wrap"
        ><span class="min-w-0 shrink-[3] truncate" :title="place">{{ place }}</span
        ><span aria-hidden="true">·</span
        ><span class="shrink-0"
          >controller
          <RouterLink class="underline" :to="`/build/controllers/${stored.value.controllerId}`">{{
            nameOf(stored.value.controllerId)
          }}</RouterLink>, {{ stored.value.car ? 'readers at port' : 'door' }} {{ stored.value.port }}</span
        ><span aria-hidden="true">·</span
        ><span class="min-w-0 truncate"
          >plan <PeekName :id="stored.value.planId" kind="plan" :name="nameOf(stored.value.planId)" /></span
      ></span>
      <template v-else-if="!id">Name it, say where it is; the rest has the usual values.</template>
    </template>
    <template #actions>
      <BesideNav v-if="id && station === 'build'" :id="id" kind="door" />
      <RouterLink
        v-if="route.query.added"
        class="btn btn-amber"
        :to="`/build/doors/new?controller=${stored?.value.controllerId}`"
        >Next door</RouterLink
      >
      <RouterLink v-if="id && station === 'rules'" class="btn" to="/rules">All rules</RouterLink>
      <RouterLink v-if="id && station === 'hours'" class="btn" to="/hours">All hours</RouterLink>
      <RouterLink v-if="id && station === 'hours'" class="btn" :to="`/hours/changes/new?door=${id}`"
        >New dated change</RouterLink
      >
      <RouterLink v-if="id" class="btn" :to="`/prove?kind=who&door=${id}`" title="Who can come in here, and when"
        >Ask</RouterLink
      >
      <RouterLink v-if="id && station !== 'prove'" class="btn" :to="`/prove/${id}`">To the bench</RouterLink>
      <RouterLink v-if="id && station === 'prove'" class="btn" :to="`/build/doors/${id}`">Its sheet</RouterLink>
      <button v-if="id && station === 'build' && !missing" class="btn" @click="remove">Remove</button>
    </template>

    <StateBox
      v-if="missing || phase === 'loading' || phase === 'failed'"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="9"
      what="This door"
    />
    <DoorBench
      v-else-if="station === 'prove' && stored"
      :id="id"
      :door="stored.value"
      :unsent="!!sheet?.unsent.length"
    />
    <template v-else-if="draft">
      <p v-if="id" class="mb-3 min-h-7 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed">
        <template v-if="sheet"
          ><span v-if="moment" class="text-ash">{{ then }}: </span
          ><StrongText :text="moment ? sheet.sentence.replace(' now', '') : sheet.sentence"
        /></template>
        <span v-else class="skeleton inline-block h-4 w-2/3 align-middle" />
      </p>
      <ElevatorBuild
        v-if="draft.car && (station === 'build' || station === 'hours')"
        :id="id"
        v-model="draft"
        :mode="sheet?.mode ?? 'card'"
        :lacks="course?.lacks ?? {}"
        :form="station === 'build'"
      />
      <DoorHours v-if="draft.car && station === 'hours'" class="mb-3" :door="door" :then="then" />
      <DoorRules v-if="draft.car && station === 'rules'" :id="id" v-model:toggle="draft.toggle" car />
      <div
        v-if="!draft.car"
        class="mb-3 grid gap-3"
        :class="
          station === 'build'
            ? 'grid-cols-[300px_minmax(0,1fr)] max-xl:grid-cols-1'
            : 'grid-cols-[330px_minmax(0,1fr)] max-xl:grid-cols-[210px_minmax(0,1fr)] max-md:grid-cols-1'
        "
      >
        <div class="space-y-3 self-start" :class="station === 'build' ? 'sticky top-0 max-xl:static' : ''">
          <section class="card overflow-hidden">
            <div class="card-head">
              <h2>The door</h2>
              <span class="note">{{
                !id
                  ? 'as it will be'
                  : !sheet
                    ? '…'
                    : sheet.online && !here?.offline
                      ? `${sheet.open ? 'open' : 'closed'} · ${sheet.released ? 'released' : 'locked'}`
                      : 'controller does not answer'
              }}</span>
            </div>
            <div class="mx-auto max-w-[340px]"><DoorPortrait :door="draft" :state="state" /></div>
          </section>
          <section v-if="station === 'build'" class="card" aria-label="After a grant">
            <div class="card-head"><h2>After a grant</h2></div>
            <DoorCourse v-if="course" class="p-3" :courses="course.courses" :power="course.power" />
            <div v-else class="h-[196px]" />
          </section>
        </div>
        <section v-if="station === 'build'" class="card self-start">
          <div class="card-head">
            <h2>Build</h2>
            <span class="note">fields change the drawing at once</span>
          </div>
          <DoorForm :id="id" v-model="draft" :lacks="course?.lacks ?? {}" />
        </section>
        <div v-else-if="station === 'rules'">
          <DoorRules
            :id="id"
            v-model:toggle="draft.toggle"
            v-model:outside="draft.outsideAreaId"
            v-model:inside="draft.insideAreaId"
          />
        </div>
        <DoorHours v-else :door="door" :then="then" />
      </div>
      <DoorWeek v-if="id && station !== 'rules'" :door="door" />
      <section v-if="station === 'hours'" class="card mt-3 px-3.5 pb-3.5">
        <FirstCardForm v-model="draft.firstCard" :plan-id="draft.planId" />
      </section>
    </template>

    <template #aside><DoorBeside :id="id" :door="door" :station="station" /></template>
  </SheetFrame>
</template>
