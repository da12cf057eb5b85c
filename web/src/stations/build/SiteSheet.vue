<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, keys } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import FloorOrder from './FloorOrder.vue'
import { many } from '../../words'

/** A site: its name and zone, how it writes times and weeks, and its floors. */
const props = defineProps<{ id: number }>()
const site = useSite()
const edit = useSheet<Schemas['Site']>({
  kind: 'site',
  id: props.id,
  name: (s) => s.name,
  load: (signal) => fetchObject('site', props.id, signal),
  store: (value, rev) => ask(api.PUT('/api/sites/{id}', { params: { path: { id: props.id } }, body: { rev, value } })),
})
const { draft, stored, missing, phase } = edit
const zones = useQuery({ queryKey: keys.zones, queryFn: ({ signal }) => ask(api.GET('/api/zones', { signal })) })
const here = computed(() => site.overview!.sites.find((s) => s.id === props.id))
const newFloor = ref('')
const { attempt, busy, problem } = useAttempt()
const addFloor = () =>
  attempt(async () => {
    await site.addFloor(props.id, newFloor.value)
    newFloor.value = ''
  })
</script>

<template>
  <SheetFrame :title="draft?.name || 'Site'">
    <template #under>Site: one place, with a zone of its own and a way of writing times</template>
    <template #actions><RouterLink class="btn" to="/build">Build</RouterLink></template>
    <StateBox
      v-if="!draft || missing"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="6"
      what="This site"
    />
    <div v-else class="grid grid-cols-2 gap-4 max-lg:grid-cols-1">
      <section class="card self-start">
        <div class="card-head"><h2>Name and clock</h2></div>
        <div class="space-y-3 p-3.5">
          <FormField v-slot="f" of="Site" field="name"
            ><input v-model="draft.name" v-bind="f.bind" class="field"
          /></FormField>
          <FormField v-slot="f" of="Site" field="zone"
            ><input v-model="draft.zone" v-bind="f.bind" class="field" list="zones" /><datalist id="zones">
              <option v-for="z in zones.data.value ?? []" :key="z" :value="z" /></datalist
          ></FormField>
          <p class="note">Its controllers keep the zones that they have; new ones are offered this one.</p>
          <label class="flex min-h-[24px] items-center gap-2"
            ><input v-model="draft.twelveHour" type="checkbox" /> 12-hour clock: times as 6:30 pm, not as 18:30</label
          >
          <label class="flex min-h-[24px] items-center gap-2"
            ><input v-model="draft.fromSunday" type="checkbox" /> calendars begin their weeks on Sunday</label
          >
          <p class="note">
            On screens about this site. Hours as text stay in the 24-hour clock: it is a notation of its own.
          </p>
        </div>
      </section>
      <section class="card self-start">
        <div class="card-head">
          <h2>Floors</h2>
          <span class="note">{{ many(here?.floors.length ?? 0, 'floor', 'floors') }}</span>
        </div>
        <p v-if="!here?.floors.length" class="p-3.5 text-ash">None yet. Doors are on floors; add the first.</p>
        <FloorOrder v-if="here" :floors="here.floors" @problem="(w) => (problem = w)" />
        <form class="row" @submit.prevent="addFloor">
          <input v-model="newFloor" class="field" placeholder="Level 1" aria-label="Name of a new floor" /><button
            class="btn"
            :disabled="!newFloor.trim() || busy"
          >
            Add
          </button>
        </form>
        <p v-if="problem" role="alert" class="px-3.5 pb-2 font-semibold text-wine">{{ problem }}</p>
      </section>
    </div>
    <template #aside>
      <SheetSave v-if="stored" :sheet="edit" of="Site" />
      <h2>What it changes</h2>
      <div class="card p-3 text-[13px] leading-relaxed">
        <p>What stands here changes no door: hours follow the zone of the door’s controller.</p>
      </div>
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
