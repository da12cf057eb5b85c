<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'
import { many, modeClass } from '../../words'
import HoursTabs from './HoursTabs.vue'
import MiniWeek from './MiniWeek.vue'
import PlaceYear from './PlaceYear.vue'
import { useTypes } from './types'

const site = useSite()
const { types, tint } = useTypes()
const hours = ref<Schemas['HoursList']>()
const changes = ref<Schemas['ChangeLine'][]>([])
const find = ref('')
async function load() {
  ;[hours.value, changes.value] = await Promise.all([ask(api.GET('/api/hours/list')), ask(api.GET('/api/change-lines'))])
}
onMounted(load)
watch(() => site.version, load)
const found = <T extends { name: string }>(list: T[] | undefined) => (list ?? []).filter((x) => x.name.toLowerCase().includes(find.value.trim().toLowerCase()))
const plans = computed(() => found(hours.value?.plans))
const schedules = computed(() => found(hours.value?.schedules))
const coming = computed(() => changes.value.filter((c) => c.state !== 'past').slice(0, 4))
</script>

<template>
  <SheetFrame title="Hours" under="What doors ask at each hour, and when people may come in">
    <HoursTabs />
    <PlaceYear class="mb-4" />
    <section class="card mb-4">
      <div class="card-head py-1.5"><h2>Passage plans</h2><input v-model="find" type="search" class="field ml-auto w-52! py-1" placeholder="Find a plan or schedule" aria-label="Find a plan or schedule" @keydown.esc="find = ''" /><RouterLink class="btn px-2.5 py-0.5" to="/hours/plans/new">New plan</RouterLink></div>
      <RouterLink v-for="p in plans" :key="p.id" :to="`/hours/plans/${p.id}`" class="row hover:bg-lime">
        <b class="w-52 shrink-0 truncate">{{ p.name }}</b><MiniWeek class="flex-1" :week="p.week" :otherwise="p.default" /><span class="note w-28 text-right">{{ p.doors ? many(p.doors, 'door', 'doors') : 'no door follows' }}</span>
      </RouterLink>
      <p v-if="hours && !plans.length" class="note p-3.5">{{ find ? `No plan has “${find}” in its name.` : 'No plan yet. A plan says what its doors ask at each hour of a week.' }}</p>
    </section>
    <section class="card">
      <div class="card-head py-1.5"><h2>Schedules</h2><RouterLink class="btn px-2.5 py-0.5" to="/hours/schedules/new">New schedule</RouterLink></div>
      <RouterLink v-for="s in schedules" :key="s.id" :to="`/hours/schedules/${s.id}`" class="row hover:bg-lime"><b class="w-52 shrink-0 truncate">{{ s.name }}</b><MiniWeek class="flex-1" :week="s.week" /><span class="note w-28 text-right">{{ s.levels ? many(s.levels, 'level', 'levels') : s.fixed ? 'always there' : 'no level uses it' }}</span></RouterLink>
      <p v-if="hours && !schedules.length" class="note p-3.5">No schedule has “{{ find }}” in its name.</p>
    </section>
    <template #aside>
      <h2>Dated changes</h2>
      <div class="card text-[13px]">
        <p v-if="!coming.length" class="p-3 text-ash">None is coming.</p>
        <RouterLink v-for="c in coming" :key="c.id" :to="`/hours/changes/${c.id}`" class="row items-start py-1.5 hover:bg-lime"><span class="mt-1 h-3 w-4 shrink-0 border-2 border-dashed border-violet" :class="modeClass(c.mode)" /><span><b>{{ c.name }}</b><span class="note block text-[12px]">{{ c.state === 'now' ? 'now, ' : '' }}{{ c.next }}</span></span></RouterLink>
        <RouterLink class="row py-1.5 underline" to="/hours/changes/new">New dated change</RouterLink>
      </div>
      <h2>Holiday types</h2>
      <div class="card text-[13px]"><RouterLink v-for="t in types" :key="t.id" :to="`/hours/types/${t.id}`" class="row py-1.5 hover:bg-lime"><span class="size-2.5 rounded-full" :class="tint(t.id)" />{{ t.name }}</RouterLink></div>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed"><p><b>A passage plan</b> says what a door asks of everybody: nothing, a card, a PIN, or that it is barred.</p><p><b>A schedule</b> says when an access level lets its people in.</p><p>Hours are wall-clock time in the zone of the door’s controller.</p></div>
    </template>
  </SheetFrame>
</template>
