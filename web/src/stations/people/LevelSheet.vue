<script setup lang="ts">
import { whenever } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchList, fetchObject, useAll } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualSchedule } from '../../domain/level/entries'
import HolderList from '../../domain/level/HolderList.vue'
import LevelContains from '../../domain/level/LevelContains.vue'
import LevelPlaces from '../../domain/level/LevelPlaces.vue'
import LevelDoors from '../../domain/level/LevelDoors.vue'
import LevelRides from '../../domain/level/LevelRides.vue'
import OverlapList from '../../domain/level/OverlapList.vue'
import SchedulePick from '../../domain/level/SchedulePick.vue'
import WhereCard from '../../domain/access/WhereCard.vue'
import { useRemoval } from '../../ui/removal'
import BesideNav from '../../ui/BesideNav.vue'
import EffectCard from '../../ui/EffectCard.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import UsedBy from '../../ui/UsedBy.vue'
import { useConsequence } from '../../ui/consequence'

const props = defineProps<{ id: number }>()
const router = useRouter()
const route = useRoute()
const path = { path: { id: props.id } }
const brush = ref(0)

/** A new level is empty; or a copy of another, or of the doors that it is begun with. */
async function fresh(): Promise<Schemas['Level']> {
  const copyOf = Number(route.query.copy ?? 0)
  if (copyOf) {
    const l = (await fetchObject('level', copyOf)).value
    return { ...l, id: 0, name: `${l.name}, copy` }
  }
  const doors = String(route.query.doors ?? '')
    .split(',')
    .map(Number)
    .filter(Boolean)
  const schedule = doors.length ? await always() : 0
  return { id: 0, name: '', entries: doors.map((id) => ({ target: { kind: 'door', id }, scheduleId: schedule })) }
}
const edit = useSheet<Schemas['Level']>({
  kind: 'level',
  id: props.id,
  name: (l) => l.name,
  load: async (signal) => (props.id ? fetchObject('level', props.id, signal) : { rev: 0, value: await fresh() }),
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/levels/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/levels', { body: value })),
  added: (v) => void (!props.id && router.replace(`/people/levels/${v.value.id}`)),
})
const { draft, dirty, missing, phase } = edit

async function always() {
  const found = await fetchList('schedule', { q: 'Always', limit: 20 })
  return found.items.find((s) => s.value.fixed && s.value.name === 'Always')?.value.id ?? 0
}
// Places are chosen with the schedule that most of the level has; with Always where it has none.
whenever(
  draft,
  async (d) => {
    const id = usualSchedule(d.entries) || (await always())
    brush.value ||= id
  },
  { once: true, immediate: true },
)
const sets = useAll('door set')
const setList = computed(() => (sets.data.value ?? []).map((s) => s.value))
const effect = useConsequence(() => (props.id && dirty.value ? { level: draft.value } : undefined))
const copied = (l: Schemas['Level']) => JSON.parse(JSON.stringify(l)) as Schemas['Level']
const asked = computed<Schemas['WhereAsked'] | undefined>(() => {
  if (!draft.value) return undefined
  return dirty.value || !props.id
    ? { edit: { level: { ...copied(draft.value), name: draft.value.name || '-' } } }
    : { level: props.id }
})

const remove = useRemoval(edit, {
  kind: 'level',
  id: props.id,
  follows: () => 'History can bring it back.',
  to: '/people/levels',
})
</script>

<template>
  <SheetFrame :title="draft?.name || (id ? 'Access level' : 'New access level')">
    <template #title
      ><FormField v-if="draft && !missing" v-slot="f" of="Level" field="name" quiet
        ><input
          v-model="draft.name"
          v-bind="f.bind"
          class="title-field"
          placeholder="Name of the level"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under>Access level: where, and each during a schedule</template>
    <template #actions
      ><BesideNav v-if="id" :id="id" kind="level" /><template v-if="id && !missing"
        ><RouterLink class="btn" :to="`/people/levels/new?copy=${id}`">Copy</RouterLink
        ><RouterLink class="btn" :to="`/people/compare?kind=level&a=${id}`">Compare</RouterLink
        ><button class="btn" @click="remove">Remove</button></template
      ></template
    >
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="9"
      what="This access level"
    />
    <template v-else>
      <div class="mb-3 flex flex-wrap items-center gap-2 text-[13px]">
        <span class="text-ash">Places that you choose open during</span>
        <SchedulePick v-model="brush" label="Schedule of places that you choose" />
        <label class="flex basis-full items-center gap-1.5"
          ><input v-model="draft.opensDay" type="checkbox" /> opens the day: gives the first card where a door wants
          one</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="draft.approves" type="checkbox" /> approves others</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="draft.toggles" type="checkbox" /> may toggle doors</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="draft.overrides" type="checkbox" /> overrides lockdown</label
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="draft.locksDown" type="checkbox" /> starts and ends lockdowns</label
        >
        <label class="flex items-center gap-1.5"><input v-model="draft.arms" type="checkbox" /> arms alarm areas</label>
        <label class="flex items-center gap-1.5"
          ><input v-model="draft.disarms" type="checkbox" /> disarms them too</label
        >
      </div>
      <p v-if="edit.fields.value.entries" role="alert" class="mb-2 font-semibold text-wine">
        {{ edit.fields.value.entries }}
      </p>
      <LevelContains :id="id" v-model="draft.includes" :problem="edit.fields.value.includes" />
      <LevelPlaces v-model="draft.entries" :brush="brush" :sets="setList" />
      <LevelRides v-model="draft.entries" :brush="brush" />
      <LevelDoors v-model="draft.entries" :brush="brush" :sets="setList" />
      <WhereCard
        class="mt-3"
        title="Where it leads"
        :asked="asked"
        none="Nowhere yet: a new level is empty. Tick doors above, or add a whole place."
      />
    </template>
    <template #aside>
      <template v-if="dirty && id">
        <h2>What this edit does</h2>
        <EffectCard :effect="effect" none="…" />
      </template>
      <SheetSave
        :sheet="edit"
        of="Level"
        :fresh="!id"
        :save-label="id ? 'Save' : 'Add the level'"
        :discard="id ? edit.discard : () => edit.leave('/people/levels')"
      />
      <SentNow v-if="id && !dirty" />
      <HolderList v-if="id" :id="id" />
      <OverlapList v-if="id" :id="id" />
      <UsedBy v-if="id" :id="id" leave-out="person" none="No department, level or plan names it." />
      <HistoryCard v-if="id" :id="id" />
    </template>
  </SheetFrame>
</template>
