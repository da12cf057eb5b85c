<script setup lang="ts">
import { ChevronLeft, ChevronRight } from '@lucide/vue'
import { useDebounce } from '@vueuse/core'
import { computed, ref, toRaw, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useComputed } from '../../core/query'
import { addDays } from '../../dates'
import StateBox from '../../ui/StateBox.vue'
import { many } from '../../words'
import HourBar from './HourBar.vue'

/** The building with the hours of each door as a small bar: where somebody may go on a day, or where a level leads. */
const props = defineProps<{ asked: Schemas['WhereAsked'] | undefined; title: string; none: string }>()
const emit = defineEmits<{ told: [w: Schemas['Where']] }>()
const day = ref('')
const soon = useDebounce(
  computed(() => (props.asked ? JSON.stringify({ ...toRaw(props.asked), day: day.value }) : '')),
  200,
)
const query = useComputed(
  'where',
  () => [soon.value],
  async (signal) => {
    const w = await ask(api.POST('/api/where', { body: JSON.parse(soon.value) as Schemas['WhereAsked'], signal }))
    emit('told', w)
    return w
  },
  () => !!soon.value,
)
const shown = ref<Schemas['Where']>()
watch(query.data, (w) => w && (shown.value = w), { immediate: true })
const where = computed(() => query.data.value ?? shown.value)
/** Doors under the floor that they are on, in the order of the building. */
const floors = computed(() => {
  const out: { name: string; doors: Schemas['WhereDoor'][] }[] = []
  for (const d of where.value?.doors ?? []) {
    if (out.at(-1)?.name !== d.floor) out.push({ name: d.floor, doors: [] })
    out.at(-1)!.doors.push(d)
  }
  return out
})
/** Of more doors than this, the rest is drawn when it is asked for. */
const most = 60
const all = ref(false)
const drawn = computed(() => {
  let left = all.value ? Infinity : most
  return floors.value
    .map((f) => ({ ...f, doors: f.doors.slice(0, Math.max(0, (left -= f.doors.length) + f.doors.length)) }))
    .filter((f) => f.doors.length)
})
const go = (by: number) => where.value && (day.value = addDays(where.value.date, by))
/** The levels by which somebody comes through a door, each once, with why they hold it. */
const through = (d: Schemas['WhereDoor']) => [
  ...new Map(
    d.through.map((t) => [t.levelId + t.by, { name: t.level, by: t.by, dates: t.dates, schedule: t.schedule }]),
  ).values(),
]
</script>

<template>
  <section class="card" :aria-label="title">
    <div class="card-head py-1.5">
      <h2>
        {{ title }}<template v-if="where"> on {{ where.words.slice(0, -5) }}</template>
      </h2>
      <span class="flex items-center gap-1">
        <button class="btn size-7 p-0" aria-label="The day before" :disabled="!where" @click="go(-1)">
          <ChevronLeft class="size-4" /></button
        ><button v-if="day" class="btn px-2 py-0.5 text-[12.5px]" @click="day = ''">today</button
        ><button class="btn size-7 p-0" aria-label="The day after" :disabled="!where" @click="go(1)">
          <ChevronRight class="size-4" />
        </button>
      </span>
    </div>
    <StateBox
      v-if="!where"
      class="m-3"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <p v-else-if="!where.doors.length" class="px-3.5 py-2.5 text-ash">{{ none }}</p>
    <div v-else class="pb-1.5">
      <template v-for="f in drawn" :key="f.name">
        <h3 class="px-3.5 pt-2 text-[13px] font-normal text-ash">{{ f.name }}</h3>
        <div
          v-for="d in f.doors"
          :key="d.id"
          class="grid min-h-[28px] grid-cols-[minmax(0,1.5fr)_92px_minmax(0,1fr)_74px] items-center gap-2.5 px-3.5 py-[3px] text-[13.5px]"
        >
          <RouterLink :to="`/hours/doors/${d.id}`" class="min-w-0 hover:underline"
            ><span class="block truncate">{{ d.name }}</span
            ><span v-if="d.floors" class="block truncate text-[12px] text-ash" :title="d.floors">{{
              d.floors
            }}</span></RouterLink
          >
          <HourBar :pieces="d.open" :minute="d.minute" :label="`${d.name} on ${where.words}`" />
          <span class="min-w-0 text-[12px] leading-tight text-ash">
            <span
              v-for="t in through(d)"
              :key="t.name + t.by"
              class="block truncate"
              :title="`${t.name} during ${t.schedule}${t.by ? ', ' + t.by : ''}${t.dates ? ', ' + t.dates : ''}`"
              >{{ t.name }}<template v-if="t.by"> · {{ t.by }}</template></span
            >
          </span>
          <span
            class="text-right text-[12px] leading-tight font-semibold"
            :class="d.now ? 'text-kelp' : 'text-ash'"
            :title="d.now ? `now, ${d.next}` : d.next"
            >{{ d.now ? 'now' : inClock(d.next) }}</span
          >
        </div>
      </template>
      <p v-if="!all && where.doors.length > most" class="px-3.5 py-1.5">
        <button class="btn px-2 py-0.5" @click="all = true">
          Show {{ many(where.doors.length - most, 'more door', 'more doors') }}
        </button>
      </p>
    </div>
  </section>
</template>
