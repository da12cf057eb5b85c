<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import SheetFrame from '../../ui/SheetFrame.vue'
import { useSite } from '../../core/site'
import { clock, many } from '../../words'
import { typeWords, useTypes } from './types'

const site = useSite()
const router = useRouter()
const { types, tint } = useTypes()
const find = ref('')
const regions = ref<Schemas['Region'][]>([])
const code = ref('')
const file = ref<{ name: string; text: string }>()
const thisYear = Number(site.today().slice(0, 4))
const from = ref(thisYear)
const to = ref(thisYear + 1)
const siteIds = ref<number[]>([])
const offer = ref<Schemas['Offer']>()
const ticked = ref<Record<number, boolean>>({})
const typeOf = ref<Record<string, number>>({})
const usual = ref(0)
const problem = ref('')
const done = ref<Schemas['Loaded']>()

async function look() {
  regions.value = await ask(api.GET('/api/regions', { params: { query: { q: find.value } } }))
}
let timer = 0
watch(find, () => {
  clearTimeout(timer)
  timer = window.setTimeout(look, 120)
})
onMounted(look)
watch(
  types,
  (t) => {
    if (!usual.value && t.length) usual.value = t[0]!.id
  },
  { immediate: true },
)

async function preview() {
  done.value = undefined
  if (!code.value && !file.value) return
  try {
    offer.value = file.value
      ? await ask(
          api.POST('/api/holidays/read-calendar', {
            body: { text: file.value.text, from: from.value, to: to.value, siteIds: siteIds.value },
          }),
        )
      : await ask(
          api.GET('/api/regions/{code}', {
            params: { path: { code: code.value }, query: { from: from.value, to: to.value, sites: siteIds.value } },
          }),
        )
    ticked.value = Object.fromEntries(offer.value.days.map((d, i) => [i, !d.known]))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message.replace(/^Not saved: /, '')
    offer.value = undefined
  }
}
watch([code, file, from, to, siteIds], preview)
async function choose(e: Event) {
  const f = (e.target as HTMLInputElement).files?.[0]
  if (!f) return
  code.value = ''
  file.value = { name: f.name, text: await f.text() }
}
function pick(r: Schemas['Region']) {
  file.value = undefined
  code.value = r.code
}
const type = (name: string) => typeOf.value[name] ?? usual.value
const chosen = computed(() => (offer.value?.days ?? []).filter((d, i) => ticked.value[i] && !d.same))
async function load() {
  try {
    done.value = await ask(
      api.POST('/api/holidays/load', {
        body: {
          siteIds: siteIds.value,
          days: chosen.value.map((d) => ({
            date: d.date,
            name: d.name,
            substitute: d.substitute,
            start: d.start,
            end: d.end,
            typeId: type(d.name),
          })),
        },
      }),
    )
    problem.value = ''
    const kept = done.value
    await preview()
    done.value = kept
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame
    title="Load public holidays"
    under="Choose a country or region, or an iCalendar file; tick what holds here, and say what each means"
  >
    <template #actions><button class="btn" @click="router.push('/hours/holidays')">All holidays</button></template>
    <div class="grid grid-cols-[226px_minmax(0,1fr)] gap-3 max-xl:grid-cols-1">
      <section class="space-y-3 self-start">
        <div class="card">
          <div class="p-2.5">
            <input
              v-model="find"
              class="field"
              type="search"
              placeholder="Country or region"
              aria-label="Country or region"
            />
          </div>
          <div class="max-h-[250px] overflow-auto" role="listbox" aria-label="Regions">
            <button
              v-for="r in regions"
              :key="r.code"
              role="option"
              :aria-selected="r.code === code"
              class="flex w-full items-baseline justify-between gap-2 px-3 py-1 text-left text-[13px] leading-snug"
              :class="r.code === code ? 'bg-basalt-2 text-paper' : 'hover:bg-lime'"
              @click="pick(r)"
            >
              <span class="min-w-0">{{ r.name }}</span><span
                class="font-mono text-[11px] whitespace-nowrap opacity-70"
                >{{ r.code }}</span
              >
            </button>
            <p v-if="!regions.length" class="note px-3 pb-2">No region has “{{ find }}” in its name.</p>
          </div>
        </div>
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
            <label v-for="s in site.overview!.sites" :key="s.id" class="flex items-center gap-1.5"
              ><input v-model="siteIds" type="checkbox" :value="s.id" /> {{ s.name }}</label
            >
            <p class="note text-[12px]">{{ siteIds.length ? '' : 'none ticked: everywhere' }}</p></template
          >
        </div>
      </section>
      <section class="card self-start">
        <p v-if="problem" role="alert" class="p-3 font-semibold text-wine">{{ problem }}</p>
        <p v-else-if="!offer" class="p-4 text-ash">The days are shown here before anything is added.</p>
        <template v-else>
          <div class="card-head py-1.5">
            <h2>{{ offer.title }}</h2>
            <label class="flex items-center gap-1.5 text-[13px]"
              >Type
              <select v-model.number="usual" class="field w-auto! py-0.5" aria-label="Type of all">
                <option v-for="t in types" :key="t.id" :value="t.id">{{ t.name }}</option>
              </select></label
            >
          </div>
          <p v-for="p in offer.problems" :key="p" class="border-b border-seam px-3.5 py-1 text-[13px] text-wine">
            {{ p }}
          </p>
          <p v-if="!offer.days.length" class="p-4 text-ash">No public holidays in these years.</p>
          <div class="max-h-[520px] overflow-auto">
            <div
              v-for="(d, i) in offer.days"
              :key="i"
              class="row py-1 text-[13px]"
              :class="ticked[i] ? '' : 'text-ash'"
            >
              <label class="flex min-w-0 flex-1 items-center gap-2.5"
                ><input v-model="ticked[i]" type="checkbox" :disabled="d.same" /><span
                  class="w-[122px] shrink-0 font-mono text-[12px] whitespace-nowrap"
                  >{{ d.words }}</span
                ><span class="truncate" :title="d.name">{{ d.name }}</span
                ><span v-if="d.substitute" class="pill border border-seam text-ash">substitute day</span
                ><span v-if="d.end - d.start < 1440" class="note">{{ clock(d.start) }}–{{ clock(d.end) }}</span></label
              >
              <span v-if="d.same" class="note text-[12px]">already entered</span>
              <template v-else
                ><span v-if="d.known" class="note max-w-32 truncate text-[12px]" :title="d.known"
                  >there: {{ d.known }}</span
                ><span class="size-2.5 shrink-0 rounded-full" :class="tint(type(d.name))" /><select
                  class="field w-[124px]! px-1.5 py-0"
                  :value="type(d.name)"
                  :aria-label="`Type of ${d.name}`"
                  @change="typeOf[d.name] = Number(($event.target as HTMLSelectElement).value)"
                >
                  <option v-for="t in types" :key="t.id" :value="t.id">{{ t.name }}</option>
                </select></template
              >
            </div>
          </div>
        </template>
      </section>
    </div>
    <template #aside>
      <p v-if="done" role="status" class="rounded-lg bg-kelp p-3 font-semibold text-paper">
        {{ many(done.added, 'date', 'dates') }} added{{ done.already ? `, ${done.already} were there already` : '' }}.
      </p>
      <button v-if="offer" class="btn btn-amber w-full" :disabled="!chosen.length" @click="load">
        Add {{ many(chosen.length, 'date', 'dates') }}
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
