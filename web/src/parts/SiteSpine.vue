<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { doorOf, doorPath } from '../router'
import { useSite } from '../site'
import AccountBox from './AccountBox.vue'
import ModeTile from './ModeTile.vue'

const site = useSite()
const route = useRoute()
const filter = ref('')
const account = ref(false)

const current = computed(() => doorOf(route))
const sites = computed(() => {
  const text = filter.value.trim().toLowerCase()
  return site.overview!.sites
    .map((s) => ({
      ...s,
      floors: [...s.floors]
        .sort((a, b) => b.level - a.level)
        .map((f) => ({ ...f, doors: f.doors.filter((d) => (d.name + ' ' + f.name + ' ' + s.name).toLowerCase().includes(text)) }))
        .filter((f) => f.doors.length || !text),
    }))
    .filter((s) => s.floors.length || !text)
})
</script>

<template>
  <nav aria-label="Doors" class="flex min-h-0 flex-col border-r border-seam bg-lime">
    <div class="p-3">
      <input v-model="filter" class="field" type="search" placeholder="Find a door or floor" aria-label="Find a door or floor" @keydown.esc="filter = ''" />
    </div>
    <div class="min-h-0 flex-1 overflow-auto px-2 pb-6">
      <p v-if="!sites.length && filter" class="note px-2">No door or floor has “{{ filter }}” in its name.</p>
      <p v-else-if="!sites.length" class="note px-2">No doors yet. Take a controller into service, then name its doors here.</p>
      <section v-for="s in sites" :key="s.id" class="mb-3">
        <h2 class="px-2 py-1 text-[14px]">{{ s.name }}</h2>
        <template v-for="f in s.floors" :key="f.id">
          <h3 class="note px-3.5 py-1">{{ f.name }}</h3>
          <RouterLink
            v-for="d in f.doors"
            :key="d.id"
            :to="doorPath(route.path, d.id)"
            class="flex items-center gap-2 rounded-md py-[3px] pr-2 pl-6.5"
            :class="d.id === current ? 'bg-basalt-2 text-paper' : 'hover:bg-plaster'"
            :aria-current="d.id === current ? 'true' : undefined"
          >
            <ModeTile :mode="d.mode" :dim="d.offline" :waits="d.waits" />
            <span class="min-w-0 flex-1 truncate">{{ d.name }}</span>
            <span v-if="d.alarm" class="pill border border-wine bg-paper text-wine" :title="d.alarm">{{ d.alarm === 'forced' ? 'forced' : 'open' }}</span>
            <span v-else-if="d.open" class="note text-[11px]" :class="d.id === current ? 'text-seam' : ''">open</span>
          </RouterLink>
        </template>
      </section>
    </div>
    <footer class="flex items-center justify-between border-t border-seam px-4 py-2 text-[12px] text-ash">
      <button class="underline" title="Password and sessions" @click="account = true">{{ site.session!.name }}</button>
      <span class="flex gap-3">
        <RouterLink to="/history" class="underline">History</RouterLink>
        <button class="underline" @click="site.signOut">Sign out</button>
      </span>
    </footer>
    <AccountBox v-if="account" @close="account = false" />
  </nav>
</template>
