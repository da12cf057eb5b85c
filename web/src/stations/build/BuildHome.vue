<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useSite } from '../../core/site'
import SheetFrame from '../../ui/SheetFrame.vue'
import { many } from '../../words'
import BuildTabs from './BuildTabs.vue'
import FoundList from './FoundList.vue'
import KeepTable from './KeepTable.vue'
import KeepTodo from './KeepTodo.vue'

/** Controllers: those in service and how they are, and those that were found. */
const site = useSite()
const nothing = computed(() => !site.units.length || !site.doors.length)
</script>

<template>
  <SheetFrame title="Build" under="Controllers in service, and those that were found on the network">
    <template #actions>
      <RouterLink v-if="!nothing" class="btn" to="/build/first">First doors</RouterLink>
    </template>
    <BuildTabs />
    <section v-if="nothing" class="card mb-4 border-l-4 border-l-amber p-4" aria-label="First doors">
      <h2 class="text-[15px]">First doors</h2>
      <p class="my-1 text-ash">
        Nothing works yet. Five short steps take you from a found controller to working doors; everything can be changed
        later.
      </p>
      <RouterLink class="btn btn-amber" to="/build/first">Begin</RouterLink>
    </section>
    <KeepTable v-if="site.units.length" />
    <FoundList />
    <template #aside>
      <h2>This installation</h2>
      <div class="card p-3 text-[13px] leading-relaxed">
        <p>
          {{ many(site.overview!.sites.length, 'site', 'sites') }}, {{ many(site.doors.length, 'door', 'doors') }},
          {{ many(site.units.length, 'controller', 'controllers') }}
        </p>
        <p v-for="s in site.overview!.sites" :key="s.id">
          <RouterLink class="underline" :to="`/build/sites/${s.id}`">{{ s.name }}</RouterLink><span class="note">
            · {{ s.zone.split('/').at(-1)?.replaceAll('_', ' ') }}</span
          >
        </p>
        <p class="note mt-1">Time zone data {{ site.overview!.zoneData }}</p>
        <a class="mt-1 inline-block underline" href="/api/site-file" download>Save as a site file</a>
        <p class="note">PINs are not in it: they are stored hashed.</p>
      </div>
      <KeepTodo v-if="site.units.length" />
    </template>
  </SheetFrame>
</template>
