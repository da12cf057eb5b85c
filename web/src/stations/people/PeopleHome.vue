<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'

const site = useSite()
const q = ref('')
const people = ref<Schemas['Person'][]>([])
const total = ref(0)
const levels = ref<Schemas['Level'][]>([])
let turn = 0
async function load(offset = 0) {
  const mine = ++turn
  const page = await ask(api.GET('/api/people', { params: { query: { q: q.value, limit: 100, offset } } }))
  if (mine !== turn) return
  const list = page.items.map((p) => p.value)
  people.value = offset ? [...people.value, ...list] : list
  total.value = page.total
}
async function loadLevels() {
  levels.value = (await ask(api.GET('/api/levels', { params: { query: { limit: 1000 } } }))).items.map((l) => l.value)
}
onMounted(() => { void load(); void loadLevels() })
watch(() => site.version, () => { void load(); void loadLevels() })
let timer = 0
watch(q, () => { clearTimeout(timer); timer = window.setTimeout(() => void load(), 120) })
onBeforeUnmount(() => clearTimeout(timer))

const levelName = (id: number) => levels.value.find((l) => l.id === id)?.name ?? ''
const card = (c: Schemas['CardHeld']) => (c.format === 'raw' ? String(c.number) : `${c.facility}-${String(c.number).padStart(5, '0')}`)
</script>

<template>
  <SheetFrame title="People" under="Who may come in, with what, and where">
    <template #actions><RouterLink class="btn btn-amber" to="/people/new">New person</RouterLink></template>
    <input v-model="q" class="field mb-3 w-80!" type="search" placeholder="Name, department or card number" aria-label="Find a person" />
    <section class="card">
      <p v-if="!people.length" class="p-4 text-ash">{{ q ? `Nobody has “${q}” in name, department or card.` : 'Nobody yet. Add a person, then let them present a card.' }}</p>
      <RouterLink v-for="p in people" :key="p.id" :to="`/people/${p.id}`" class="row py-1.5 hover:bg-lime">
        <b class="w-48 shrink-0 truncate">{{ p.name }}</b><span class="w-32 shrink-0 truncate text-ash">{{ p.department }}</span>
        <span class="w-32 shrink-0 truncate font-mono text-[12.5px]">{{ p.cards.map(card).join(', ') || 'no card' }}</span>
        <span class="min-w-0 flex-1 truncate text-[13px]">{{ p.levels.map((g) => levelName(g.levelId)).join(', ') || 'no level: cannot come in' }}</span>
        <span v-if="p.suspended" class="pill bg-wine text-paper">suspended</span>
        <span v-else-if="p.cards.some((c) => c.status !== 'active')" class="pill border border-wine text-wine">{{ p.cards.find((c) => c.status !== 'active')!.status }}</span>
      </RouterLink>
    </section>
    <p class="note mt-2">{{ people.length }} of {{ total }} <button v-if="people.length < total" class="underline" @click="load(people.length)">More</button></p>
    <template #aside>
      <div class="flex items-center justify-between"><h2>Access levels</h2><RouterLink class="btn px-2 py-0.5" to="/people/levels/new">New level</RouterLink></div>
      <div class="card text-[13px]">
        <p v-if="!levels.length" class="p-3 text-ash">None yet. A level says which doors open during which schedule; people have levels.</p>
        <RouterLink v-for="l in levels" :key="l.id" class="row py-1.5 hover:bg-lime" :to="`/people/levels/${l.id}`">{{ l.name }}<span class="note ml-auto">{{ l.entries.length }} doors</span></RouterLink>
      </div>
    </template>
  </SheetFrame>
</template>
