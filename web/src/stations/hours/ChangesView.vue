<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import CalendarLinks from '../../ui/CalendarLinks.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { sure } from '../../ui/sure'
import { useComputed } from '../../core/query'
import StateBox from '../../ui/StateBox.vue'
import { many, modeClass } from '../../words'
import DoorSets from './DoorSets.vue'
import HoursTabs from './HoursTabs.vue'

const problem = ref('')
const find = ref('')
const query = useComputed(
  'change lines',
  () => [],
  (signal) => ask(api.GET('/api/change-lines', { signal })),
)
const all = computed<Schemas['ChangeLine'][] | undefined>(() => query.data.value)
const list = computed(() =>
  all.value?.filter((c) => `${c.name} ${c.where}`.toLowerCase().includes(find.value.trim().toLowerCase())),
)
/** More than this in one group are counted and not drawn. */
const most = 60
const groups = computed(() => [
  { name: 'Now', none: '', items: list.value?.filter((c) => c.state === 'now') ?? [] },
  {
    name: 'Coming',
    none: 'None is coming. A dated change lays a mode over the plans of chosen doors, for an evening or again and again.',
    items: list.value?.filter((c) => c.state === 'coming') ?? [],
  },
  { name: 'Past', none: '', items: [...(list.value?.filter((c) => c.state === 'past') ?? [])].reverse() },
])
async function end(c: Schemas['ChangeLine']) {
  if (
    !(await sure(
      `End ${c.name} now?`,
      `From this minute on it no longer holds, at ${many(c.doors, 'door', 'doors')}, once sent. History can bring it back.`,
      'End it',
    ))
  )
    return
  try {
    await ask(api.POST('/api/dated-changes/{id}/end', { params: { path: { id: c.id } } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="Hours" under="Dated changes: a mode for chosen doors in a window, laid over their plans">
    <template #actions
      ><RouterLink class="btn btn-amber" to="/hours/changes/new">New dated change</RouterLink></template
    >
    <HoursTabs />
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <StateBox
      v-if="!all"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="8"
    />
    <input
      v-if="all && all.length > 8"
      v-model="find"
      type="search"
      class="field mb-3 w-64!"
      placeholder="Find a dated change"
      aria-label="Find a dated change"
    />
    <template v-for="g in groups" :key="g.name">
      <section v-if="list && (g.items.length || g.none)" class="card mb-4" :aria-label="g.name">
        <div class="card-head">
          <h2>{{ g.name }}</h2>
          <span class="note">{{ g.items.length || '' }}</span>
        </div>
        <p v-if="!g.items.length" class="p-3.5 text-ash">{{ find ? 'Nothing found.' : g.none }}</p>
        <div v-for="c in g.items.slice(0, most)" :key="c.id" class="row" :class="c.state === 'past' ? 'text-ash' : ''">
          <span
            class="h-4 w-6 shrink-0 border-2 border-dashed border-violet"
            :class="modeClass(c.mode)"
            :title="c.mode"
          />
          <RouterLink :to="`/hours/changes/${c.id}`" class="w-44 shrink-0 truncate font-bold hover:underline">{{
            c.name
          }}</RouterLink>
          <span class="min-w-0 flex-1"
            ><span class="font-mono text-[12.5px]">{{ c.next }}</span
            ><span class="note block truncate text-[12.5px]">{{ c.mode }} · {{ c.when }} · {{ c.where }}</span></span
          >
          <span class="note shrink-0">{{ many(c.doors, 'door', 'doors') }}</span>
          <RouterLink class="btn px-2.5 py-0.5" :to="`/hours/changes/new?copy=${c.id}`">Copy</RouterLink>
          <button v-if="c.state === 'now'" class="btn btn-wine px-2.5 py-0.5" @click="end(c)">End now</button>
        </div>
        <p v-if="g.items.length > most" class="note border-t border-seam px-3.5 py-2">
          and {{ g.items.length - most }} more; find them by name
        </p>
      </section>
    </template>
    <template #aside
      ><div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>
          A dated change stands above holidays and plans. Where two meet at a door, the one made later decides, and that
          is a finding.
        </p>
        <p>Its times are the wall clock at each door.</p>
      </div>
      <DoorSets /><CalendarLinks name="changes"
    /></template>
  </SheetFrame>
</template>
