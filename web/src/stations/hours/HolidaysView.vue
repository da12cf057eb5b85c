<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import CalendarLinks from '../../ui/CalendarLinks.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import HolidayEffect from './HolidayEffect.vue'
import HoursTabs from './HoursTabs.vue'
import YearStrip from './YearStrip.vue'
import { typeWords } from '../../words'
import { useTypes } from './types'

const site = useSite()
const router = useRouter()
const { types, tint, height, nameOf } = useTypes()
const today = site.today()
const year = ref(Number(today.slice(0, 4)))
const find = ref('')
const chosen = ref<number>()
const day = ref<string>() // of the one that is chosen; none: its next
function choose(id: number, date?: string) {
  chosen.value = id
  day.value = date
}
const query = useComputed(
  'holiday year',
  () => [year.value],
  (signal) => ask(api.GET('/api/holiday-year', { params: { query: { year: year.value } }, signal })),
)
const data = ref<Schemas['HolidayYear']>()
watch(query.data, (d) => d && (data.value = d), { immediate: true })
const list = computed(() => {
  const text = find.value.trim().toLowerCase()
  return (data.value?.list ?? []).filter((h) =>
    `${h.name} ${nameOf.value(h.typeId)} ${h.dates} ${h.sites}`.toLowerCase().includes(text),
  )
})
const picked = computed(() => data.value?.list.find((h) => h.id === chosen.value))
/** A day with a holiday shows it; an empty one begins a new holiday there. */
function pick(date: string, siteId: number) {
  const there = data.value?.days.find((d) => d.date === date && d.siteId === siteId)
  if (there) choose(there.holidays[0]!.id, date)
  else void router.push(`/hours/holidays/new?date=${date}&site=${siteId}`)
}
</script>

<template>
  <SheetFrame title="Hours" under="Holidays: the days on which plans and schedules do something else">
    <template #actions>
      <RouterLink class="btn" to="/hours/holidays/load">Load public holidays</RouterLink
      ><RouterLink class="btn btn-amber" to="/hours/holidays/new">New holiday</RouterLink>
    </template>
    <HoursTabs />
    <StateBox
      v-if="!data"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="8"
    />
    <section v-if="data" class="card mb-3">
      <div class="card-head py-1.5">
        <span class="flex items-center gap-1"
          ><button class="btn px-2 py-0.5" aria-label="Year before" :disabled="year <= 2020" @click="year--">‹</button>
          <h2 class="w-12 text-center font-mono">{{ year }}</h2>
          <button class="btn px-2 py-0.5" aria-label="Year after" :disabled="year >= 2049" @click="year++">
            ›
          </button></span
        >
        <span class="flex flex-wrap justify-end gap-3 text-[12.5px] text-ash"
          ><RouterLink
            v-for="t in types"
            :key="t.id"
            :to="`/hours/types/${t.id}`"
            class="flex items-center gap-1.5 hover:underline"
            ><span class="h-3 w-3" :class="tint(t.id)" />{{ t.name }}</RouterLink
          ></span
        >
      </div>
      <p v-if="!site.overview!.sites.length" class="note p-3.5">
        The year of each site stands here; there is none yet. The first comes with the first controller, in Build.
      </p>
      <YearStrip
        v-for="s in site.overview!.sites"
        :key="`${s.id} ${year}`"
        :year="year"
        :days="(data?.days ?? []).filter((d) => d.siteId === s.id)"
        :tint="tint"
        :height="height"
        :today="today"
        :label="s.name"
        @pick="(d) => pick(d, s.id)"
      />
    </section>
    <section v-if="data" class="card">
      <div class="card-head py-1.5">
        <h2>Holidays in {{ year }}</h2>
        <input
          v-model="find"
          type="search"
          class="field w-52! py-1"
          placeholder="Find a holiday"
          aria-label="Find a holiday"
          @keydown.esc="find = ''"
        />
      </div>
      <div v-if="data && !data.list.length" class="p-4 text-ash">
        No holidays yet: doors go free on public holidays as on any other day.
        <RouterLink class="underline" to="/hours/holidays/load">Load the public holidays</RouterLink> of a country or
        region{{ site.overview!.sites.length ? ', or click a day above' : '' }}.
      </div>
      <p v-else-if="!list.length" class="note p-4">No holiday has “{{ find }}” in it.</p>
      <button
        v-for="h in list"
        :key="h.id"
        class="row w-full py-1.5 text-left hover:bg-lime"
        :class="[h.id === chosen ? 'bg-mode-card/40' : '', h.dates ? '' : 'text-ash']"
        :aria-pressed="h.id === chosen"
        @click="choose(h.id)"
        @dblclick="router.push(`/hours/holidays/${h.id}`)"
      >
        <span class="size-2.5 shrink-0 rounded-full" :class="tint(h.typeId)" /><b class="w-52 shrink-0 truncate">{{
          h.name
        }}</b
        ><span class="w-28 shrink-0 truncate text-[13px]">{{ nameOf(h.typeId) }}</span
        ><span class="min-w-0 flex-1 truncate font-mono text-[12.5px]">{{ h.dates || 'not in this year' }}</span
        ><span class="note text-[12.5px]">{{ [h.part, h.sites].filter(Boolean).join(' · ') }}</span>
      </button>
    </section>
    <template #aside>
      <template v-if="picked">
        <div class="flex items-center justify-between">
          <h2>{{ picked.name }}</h2>
          <RouterLink class="btn px-2.5 py-0.5" :to="`/hours/holidays/${picked.id}`">Edit</RouterLink>
        </div>
        <p class="note">{{ picked.when }} · {{ nameOf(picked.typeId) }}</p>
        <HolidayEffect :id="picked.id" :date="day" />
      </template>
      <p v-else class="note">Click a day or a holiday: what it does stands here.</p>
      <div class="flex items-center justify-between">
        <h2>Types</h2>
        <RouterLink class="btn px-2.5 py-0.5" to="/hours/types/new">New type</RouterLink>
      </div>
      <div class="card text-[13px]">
        <RouterLink
          v-for="t in [...types].reverse()"
          :key="t.id"
          :to="`/hours/types/${t.id}`"
          class="row items-start py-2 hover:bg-lime"
          ><span class="mt-1 size-2.5 shrink-0 rounded-full" :class="tint(t.id)" /><span
            ><b>{{ t.name }}</b
            ><span class="note block text-[12px] leading-snug">{{ typeWords(t) }}</span></span
          ></RouterLink
        >
      </div>
      <CalendarLinks name="holidays" />
    </template>
  </SheetFrame>
</template>
