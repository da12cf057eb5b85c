<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'
import MiniWeek from './MiniWeek.vue'

const site = useSite()
const plans = ref<Schemas['Plan'][]>([])
const schedules = ref<Schemas['Schedule'][]>([])
const doors = ref<Schemas['Door'][]>([])
async function load() {
  const all = { params: { query: { limit: 1000 } } }
  const [p, s, d] = await Promise.all([ask(api.GET('/api/plans', all)), ask(api.GET('/api/schedules', all)), ask(api.GET('/api/doors', all))])
  plans.value = p.items.map((x) => x.value)
  schedules.value = s.items.map((x) => x.value)
  doors.value = d.items.map((x) => x.value)
}
onMounted(load)
watch(() => site.version, load)
const followers = (id: number) => doors.value.filter((d) => d.planId === id).length
</script>

<template>
  <SheetFrame title="Hours" under="What doors ask at each hour, and when people may come in">
    <section class="card mb-4">
      <div class="card-head"><h2>Passage plans</h2><RouterLink class="btn px-2.5 py-0.5" to="/hours/plans/new">New plan</RouterLink></div>
      <RouterLink v-for="p in plans" :key="p.id" :to="`/hours/plans/${p.id}`" class="row hover:bg-lime">
        <b class="w-52 shrink-0">{{ p.name }}</b><MiniWeek class="flex-1" :week="p.week" :otherwise="p.default" /><span class="note w-28 text-right">{{ followers(p.id) ? `${followers(p.id)} door${followers(p.id) > 1 ? 's' : ''}` : 'no door follows' }}</span>
      </RouterLink>
    </section>
    <section class="card">
      <div class="card-head"><h2>Schedules</h2><RouterLink class="btn px-2.5 py-0.5" to="/hours/schedules/new">New schedule</RouterLink></div>
      <RouterLink v-for="s in schedules" :key="s.id" :to="`/hours/schedules/${s.id}`" class="row hover:bg-lime"><b class="w-52 shrink-0">{{ s.name }}</b><MiniWeek class="flex-1" :week="s.week" /><span class="note w-28 text-right">{{ s.fixed ? 'always there' : '' }}</span></RouterLink>
    </section>
    <template #aside><div class="card space-y-2 p-3 text-[13px] leading-relaxed"><p><b>A passage plan</b> says what a door asks of everybody: nothing, a card, a PIN, or that it is barred.</p><p><b>A schedule</b> says when an access level lets its people in.</p><p>Hours are wall-clock time in the zone of the door's controller.</p></div></template>
  </SheetFrame>
</template>
