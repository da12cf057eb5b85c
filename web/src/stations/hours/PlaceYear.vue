<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import YearStrip from './YearStrip.vue'
import { useTypes } from './types'

/** The holidays of this year at the first site: the days on which rows of holiday types hold. */
defineProps<{ legend?: boolean }>()
const site = useSite()
const router = useRouter()
const { types, tint, height } = useTypes()
const today = site.today()
const year = Number(today.slice(0, 4))
const place = computed(() => site.overview!.sites[0])
const query = useComputed(
  'holiday year',
  () => [year],
  (signal) => ask(api.GET('/api/holiday-year', { params: { query: { year } }, signal })),
)
const days = computed<Schemas['YearDay'][]>(() => query.data.value?.days ?? [])
const here = computed(() => days.value.filter((d) => d.siteId === place.value?.id))
const counts = computed(() =>
  types.value.map((t) => ({ ...t, days: here.value.filter((d) => d.holidays[0]!.typeId === t.id).length })),
)
</script>

<template>
  <section v-if="place" class="card">
    <YearStrip
      :year="year"
      :days="here"
      :tint="tint"
      :height="height"
      :today="today"
      :label="`${place.name} ${year}`"
      @pick="router.push('/hours/holidays')"
    />
    <p v-if="legend" class="flex flex-wrap gap-x-4 border-t border-seam px-3.5 py-1.5 text-[12.5px] text-ash">
      <span v-for="t in counts" :key="t.id" class="flex items-center gap-1.5"
        ><span class="size-2.5 rounded-full" :class="tint(t.id)" />{{ t.name }}:
        {{ t.days ? `${t.days} ${t.days === 1 ? 'day' : 'days'}` : 'no day' }}</span
      >
    </p>
  </section>
</template>
