<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import { useFieldErrors } from '../../core/sheet'
import { useSite } from '../../core/site'
import DateRange from '../../ui/DateRange.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'
import { useAll } from '../../core/query'
import PlacePicker from '../level/PlacePicker.vue'

/** What somebody is given: access levels, and places each during a schedule; for some time or for good. */
const grants = defineModel<Schemas['Grant'][]>({ required: true })
defineProps<{ title: string; none: string; held?: Schemas['HeldLine'][] }>()
const site = useSite()
const sheet = useFieldErrors()
sheet?.place((path) => /^levels\[\d+\]\./.test(path))
const place = ref(false)
const sets = useAll('door set', () => place.value || grants.value.some((g) => g.target?.kind === 'door set'))
const setList = computed(() => (sets.data.value ?? []).map((s) => s.value))
const { nameOf } = useNames(() => grants.value.flatMap((g) => [g.levelId ?? 0, g.scheduleId ?? 0]))
const wrong = (i: number) => Object.entries(sheet?.fields.value ?? {}).find(([k]) => k.startsWith(`levels[${i}].`))?.[1]
const words = (g: Schemas['Grant']) =>
  g.levelId
    ? nameOf(g.levelId)
    : g.target
      ? site.placeWords(g.target, (id) => setList.value.find((s) => s.id === id)?.name ?? 'a door set')
      : 'nothing yet'
const giveLevel = (id: number) => void (id && grants.value.push({ levelId: id }))
async function givePlace(target: Schemas['Target']) {
  const found = await ask(api.GET('/api/schedules', { params: { query: { q: 'Always', limit: 20 } } }))
  const always = found.items.find((s) => s.value.fixed && s.value.name === 'Always')?.value.id ?? 0
  grants.value.push({ target, scheduleId: always })
  place.value = false
}
</script>

<template>
  <section class="card" :aria-label="title">
    <div class="card-head">
      <h2>{{ title }}</h2>
      <span class="note">levels, and from where</span>
    </div>
    <p v-if="!grants.length && !held?.length" class="px-3.5 py-2.5 text-ash">{{ none }}</p>
    <div v-for="(g, i) in grants" :key="i" class="row flex-wrap gap-x-2 py-1.5">
      <span class="min-w-0 flex-1 basis-40"
        ><PeekName v-if="g.levelId" :id="g.levelId" kind="level" :name="nameOf(g.levelId)" /><b v-else>{{
          words(g)
        }}</b>
        <span v-if="!g.levelId" class="note block text-[12px]">a place without a level</span></span
      >
      <ObjectPicker
        v-if="!g.levelId"
        :model-value="g.scheduleId ?? 0"
        kind="schedule"
        class="w-44"
        :label="`Schedule at ${words(g)}`"
        @update:model-value="(s: number) => (g.scheduleId = s)"
      />
      <DateRange v-model:from="g.from" v-model:until="g.until" :what="words(g)" :problem="wrong(i)" />
      <button
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Take away ${words(g)}`"
        @click="grants.splice(i, 1)"
      >
        Take away
      </button>
    </div>
    <div v-for="h in held ?? []" :key="h.levelId + h.by" class="row py-1.5">
      <span class="min-w-0 flex-1"
        ><PeekName v-if="h.levelId > 0" :id="h.levelId" kind="level" :name="h.level" /><template v-else>{{
          h.level
        }}</template></span
      >
      <span class="note text-right text-[12.5px]">{{ [h.by, h.dates].filter(Boolean).join(', ') }}</span>
    </div>
    <div class="row flex-wrap gap-2">
      <span class="note">Give</span>
      <ObjectPicker
        :model-value="0"
        kind="level"
        class="w-52"
        label="Give an access level"
        placeholder="Find an access level"
        @chosen="giveLevel"
      />
      <PlacePicker v-if="place" :sets="setList" doors label="Give a place" @chosen="givePlace" />
      <button v-else type="button" class="btn btn-quiet px-1" @click="place = true">a place without a level</button>
      <RouterLink class="ml-auto text-[13px] underline" to="/people/levels/new">New level</RouterLink>
    </div>
  </section>
</template>
