<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { many, typeWords } from '../../words'
import OfferedDays from './OfferedDays.vue'
import RegionList from './RegionList.vue'
import { useTypes } from './types'

const site = useSite()
const { types, tint } = useTypes()
const code = ref('')
const file = ref<{ name: string; text: string }>()
const thisYear = Number(site.today().slice(0, 4))
const from = ref(thisYear)
const to = ref(thisYear + 1)
const siteIds = ref<number[]>([])
const ticked = ref<Record<number, boolean>>({})
const typeOf = ref<Record<string, number>>({})
const usual = ref(0)
const done = ref<Schemas['Loaded']>()
const { attempt, busy, problem } = useAttempt()
watch(
  types,
  (t) => {
    if (!usual.value && t.length) usual.value = t[0]!.id
  },
  { immediate: true },
)

const source = computed(() => file.value?.text ?? code.value)
const query = useQuery({
  queryKey: computed(() => keys.computed('holidays on offer', source.value, from.value, to.value, siteIds.value)),
  queryFn: ({ signal }) => {
    const years = { from: from.value, to: to.value }
    if (file.value)
      return ask(
        api.POST('/api/holidays/read-calendar', {
          body: { text: file.value.text, ...years, siteIds: siteIds.value },
          signal,
        }),
      )
    return ask(
      api.GET('/api/regions/{code}', {
        params: { path: { code: code.value }, query: { ...years, sites: siteIds.value } },
        signal,
      }),
    )
  },
  enabled: computed(() => !!source.value),
  placeholderData: keepPreviousData,
  staleTime: 0,
})
const offer = computed(() => (source.value && !query.error.value ? query.data.value : undefined))
const unread = computed(() => whatIsWrong(query.error.value))
watch(offer, (o) => {
  if (o) ticked.value = Object.fromEntries(o.days.map((d, i) => [i, !d.known]))
})
watch([source, from, to, siteIds], () => (done.value = undefined))

async function choose(e: Event) {
  const f = (e.target as HTMLInputElement).files?.[0]
  if (!f) return
  code.value = ''
  file.value = { name: f.name, text: await f.text() }
}
watch(code, (c) => c && (file.value = undefined))

const chosen = computed(() => (offer.value?.days ?? []).filter((d, i) => ticked.value[i] && !d.same))
const load = () =>
  attempt(async () => {
    done.value = await ask(
      api.POST('/api/holidays/load', {
        body: {
          siteIds: siteIds.value,
          days: chosen.value.map(({ date, name, substitute, start, end }) => ({
            ...{ date, name, substitute, start, end },
            typeId: typeOf.value[name] ?? usual.value,
          })),
        },
      }),
    )
    await query.refetch()
  })
</script>

<template>
  <SheetFrame
    title="Load public holidays"
    under="Choose a country or region, or an iCalendar file; tick what holds here, and say what each means"
  >
    <template #actions><RouterLink class="btn" to="/hours/holidays">All holidays</RouterLink></template>
    <div class="grid grid-cols-[226px_minmax(0,1fr)] gap-3 max-xl:grid-cols-1">
      <section class="space-y-3 self-start">
        <RegionList v-model="code" />
        <label class="btn w-full"
          ><input type="file" accept=".ics,text/calendar" class="sr-only" @change="choose" />{{
            file ? file.name : 'Or an iCalendar file …'
          }}</label
        >
        <div class="card space-y-2 p-3 text-[13px]">
          <p class="flex items-center gap-2">
            <span class="label">Years</span
            ><input
              v-model.lazy.number="from"
              type="number"
              class="field w-[58px]! px-1.5 py-0.5 font-mono text-[13px]"
              aria-label="First year"
            />
            to
            <input
              v-model.lazy.number="to"
              type="number"
              class="field w-[58px]! px-1.5 py-0.5 font-mono text-[13px]"
              aria-label="Last year"
            />
          </p>
          <template v-if="site.overview!.sites.length > 1"
            ><p class="label">Sites</p>
            <label v-for="s in site.overview!.sites" :key="s.id" class="flex min-h-[24px] items-center gap-1.5"
              ><input v-model="siteIds" type="checkbox" :value="s.id" /> {{ s.name }}</label
            >
            <p class="note text-[12px]">{{ siteIds.length ? '' : 'none ticked: everywhere' }}</p></template
          >
        </div>
      </section>
      <section class="card self-start">
        <p v-if="unread" role="alert" class="p-3 font-semibold text-wine">{{ unread }}</p>
        <p v-else-if="!source" class="p-4 text-ash">The days are shown here before anything is added.</p>
        <StateBox v-else-if="!offer" class="border-0" loading :rows="10" />
        <OfferedDays v-else v-model:ticked="ticked" v-model:usual="usual" v-model:type-of="typeOf" :offer="offer" />
      </section>
    </div>
    <template #aside>
      <p v-if="problem" role="alert" class="rounded-md border border-wine bg-paper p-2.5 font-semibold text-wine">
        {{ problem }}
      </p>
      <p v-if="done" role="status" class="rounded-lg bg-kelp p-3 font-semibold text-paper">
        {{ many(done.added, 'date', 'dates') }} added{{ done.already ? `, ${done.already} were there already` : '' }}.
      </p>
      <button v-if="offer" class="btn btn-amber w-full" :disabled="!chosen.length || busy" @click="load">
        {{ busy ? 'Adding …' : `Add ${many(chosen.length, 'date', 'dates')}` }}
      </button>
      <p v-if="offer" class="note">Nothing is added twice: a date that has the same name already stays as it is.</p>
      <h2>What the types mean</h2>
      <div class="card text-[13px]">
        <p v-for="t in [...types].reverse()" :key="t.id" class="row items-start py-2">
          <span class="mt-1 size-2.5 shrink-0 rounded-full" :class="tint(t.id)" /><span
            ><b>{{ t.name }}</b
            ><span class="note block text-[12px] leading-snug">{{ typeWords(t) }}</span></span
          >
        </p>
      </div>
      <p class="note text-[12px]">
        Dates from the date-holidays project, CC BY-SA 3.0. Days that follow the moon are predictions; what a government
        declares later is not in it.
      </p>
    </template>
  </SheetFrame>
</template>
