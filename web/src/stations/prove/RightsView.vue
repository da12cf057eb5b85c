<script setup lang="ts">
import { useDebounce } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useAddress } from '../../core/address'
import { useComputed } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import { sure } from '../../ui/sure'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import PeekName from '../../ui/PeekName.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { many } from '../../words'
import ProveTabs from './ProveTabs.vue'

/** The rights as a list, read by door or by person: printed, taken along, sent again. */
const by = useAddress('by', 'door')
const who = useAddress('who')
const door = useAddress('door')
const offset = ref(0)
const whoSoon = useDebounce(who, 200)
const doorSoon = useDebounce(door, 200)
const atOnce = 10
watch([by, whoSoon, doorSoon], () => (offset.value = 0))
const params = computed(() => ({
  by: by.value as 'door' | 'person',
  who: whoSoon.value,
  door: doorSoon.value,
  offset: offset.value,
  limit: atOnce,
}))
const query = useComputed(
  'rights',
  () => [params.value],
  (signal) => ask(api.GET('/api/rights', { params: { query: params.value }, signal })),
)
const shown = ref<Schemas['RightsShown']>()
watch(query.data, (d) => d && (shown.value = d), { immediate: true })
const list = computed(() => query.data.value ?? shown.value)
const csv = computed(() => `/api/rights.csv?${new URLSearchParams({ by: by.value, who: who.value, door: door.value })}`)
const { attempt, busy, problem } = useAttempt()
const said = ref('')
async function again() {
  const to = list.value?.controllers ?? []
  const yes = await sure(
    `Send everything again to ${many(to.length, 'controller', 'controllers')}?`,
    `${to.map((c) => c.name).join(', ')}: all that each should hold is sent anew and read back, whether or not something differs. Doors go on deciding meanwhile.`,
    'Send again',
  )
  if (!yes) return
  said.value = ''
  await attempt(async () => {
    const left = await ask(api.POST('/api/send', { body: { controllers: to.map((c) => c.id), whole: true } }))
    const still = left.filter((p) => to.some((c) => c.id === p.id) && (p.lacks || p.failed)).map((p) => p.name)
    said.value = still.length
      ? `Not sent to ${still.join(', ')}: they get it when they answer. The others hold it again, read back.`
      : `${many(to.length, 'controller holds', 'controllers hold')} everything again; every hash was checked.`
  })
}
/** What is unfolded; for paper all of it. */
const unfolded = ref(new Set<number>())
const everything = ref(false)
const few = 12
const linesOf = (g: Schemas['RightsGroup']) =>
  everything.value || unfolded.value.has(g.id) || g.lines.length <= few + 2 ? g.lines : g.lines.slice(0, few)
function unfold(id: number) {
  unfolded.value = new Set([...unfolded.value, id])
}
async function print() {
  everything.value = true
  await nextTick()
  window.print()
  everything.value = false
}
</script>

<template>
  <SheetFrame
    title="Rights, as a list"
    :under="list ? many(list.total, by === 'door' ? 'door' : 'person', by === 'door' ? 'doors' : 'people') : ''"
  >
    <template #actions
      ><button class="btn" :disabled="busy || !list?.controllers.length" @click="again">
        {{ busy ? 'Sending …' : 'Send again …' }}</button
      ><button class="btn" @click="print">Print</button><a class="btn" :href="csv" download>CSV</a></template
    >
    <ProveTabs />
    <div class="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      <ChoiceBar
        v-model="by"
        label="Read by"
        :choices="[
          { value: 'door', name: 'by door' },
          { value: 'person', name: 'by person' },
        ]"
      />
      <input
        v-model="who"
        type="search"
        class="field w-44!"
        placeholder="Name or number"
        aria-label="Only people with this in the name or number"
      />
      <input
        v-model="door"
        type="search"
        class="field w-44!"
        placeholder="Door, floor or site"
        aria-label="Only doors with this in their name or place"
      />
    </div>
    <p v-if="said" role="status" class="mb-2 font-semibold">{{ said }}</p>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <StateBox
      v-if="!list"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="10"
    />
    <p v-else-if="query.error.value" role="alert" class="mb-2 font-semibold text-wine">
      {{ query.error.value.message }}
    </p>
    <p v-else-if="!list.groups.length" class="card p-4 text-ash">Nothing has that in its name.</p>
    <section
      v-for="g in list?.groups ?? []"
      :key="g.id"
      class="card mb-2.5 break-inside-avoid p-3"
      :aria-label="g.name"
    >
      <h2 class="mb-1 flex items-baseline gap-2 text-[15px]">
        <PeekName :id="g.id" :kind="g.kind" :name="g.name" />
        <span class="note text-[12.5px] font-normal">{{ g.floor || g.hint }}</span>
        <span class="ml-auto text-[12.5px] font-normal text-ash">{{
          by === 'door' ? many(g.count, 'person', 'people') : many(g.count, 'door', 'doors')
        }}</span>
      </h2>
      <p v-if="!g.lines.length" class="text-[13px] text-ash">
        {{ by === 'door' ? 'Nobody has anything that leads here.' : 'Nothing that they hold leads anywhere.' }}
      </p>
      <table v-else class="w-full table-fixed text-[13px]">
        <thead class="sr-only">
          <tr>
            <th scope="col">{{ by === 'door' ? 'Person' : 'Door' }}</th>
            <th scope="col">Hours</th>
            <th scope="col">Through</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in linesOf(g)" :key="i" class="border-t border-seam/60 align-baseline">
            <td class="w-2/5 truncate py-0.5 pr-2" :title="`${l.name} ${l.hint || l.floor}`">
              <template v-if="l.id !== g.lines[i - 1]?.id"
                >{{ l.name }} <span class="note text-[12px]">{{ l.hint || l.floor }}</span></template
              >
            </td>
            <td class="w-1/5 truncate py-0.5 pr-2">{{ l.schedule }}</td>
            <td class="py-0.5">
              {{ l.level }}<span v-if="l.by" class="note">, {{ l.by }}</span
              ><span v-if="l.dates" class="note">, {{ inClock(l.dates) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <button
        v-if="linesOf(g).length < g.lines.length"
        type="button"
        class="btn btn-quiet mt-1 px-1 py-0 text-[12.5px] print:hidden"
        :aria-label="`and ${g.lines.length - linesOf(g).length} more of ${g.name}`"
        @click="unfold(g.id)"
      >
        and {{ g.lines.length - linesOf(g).length }} more
      </button>
      <p v-if="g.lines.length >= 200 && linesOf(g).length === g.lines.length" class="mt-1 text-[12.5px] text-ash">
        The first 200 lines; all of them are in the CSV.
      </p>
    </section>
    <p v-if="list && list.total > atOnce" class="flex items-center gap-2 text-[13px] print:hidden">
      {{ offset + 1 }} to {{ Math.min(offset + atOnce, list.total) }} of {{ list.total }}
      <button class="btn px-2 py-0.5" :disabled="!offset" @click="offset = Math.max(0, offset - atOnce)">Before</button
      ><button class="btn px-2 py-0.5" :disabled="offset + atOnce >= list.total" @click="offset += atOnce">Next</button>
    </p>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>What stands in the configuration: who holds what, at which doors and in which hours.</p>
        <p>
          Whether a door opens also depends on cards, dates and what the door asks: Questions answers that for a moment.
        </p>
        <p>
          <b>Send again</b> gives the controllers of what is shown all that they should hold, anew, and reads it back.
        </p>
      </div>
    </template>
  </SheetFrame>
</template>
