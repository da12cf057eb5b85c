<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useDebounce, useNow } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useKeys } from '../../core/keys'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'
import DoorPortrait from '../../ui/DoorPortrait.vue'
import ElevatorBench from '../elevator/ElevatorBench.vue'
import StateBox from '../../ui/StateBox.vue'
import StrongText from '../../ui/StrongText.vue'
import { dateOf, timeOf } from '../../words'
import BenchArea from './BenchArea.vue'
import BenchBeside from './BenchBeside.vue'
import BenchHand from './BenchHand.vue'
import BenchKeypad from './BenchKeypad.vue'
import BenchLog from './BenchLog.vue'
import LockLeaf from './LockLeaf.vue'
import { answers, benchSaid, chosenSaid } from './bench'
import { useBench, type Hand } from './useBench'

/** Plays at the controller of a door: cards, keys, leaf, exit, wires and clock. */
const props = defineProps<{ id: number; door: Schemas['Door']; unsent: boolean }>()
const site = useSite()
const path = { path: { id: props.id } }
const picked = ref(0)
const find = ref('')
const facility = ref<number>()
const number = ref<number>()
const clockText = ref('')
const { query, bench, problem, play: lay, leaf, exit, state } = useBench(props.id)
const play = (hand: Hand | (() => Hand)) => lay(hand).then(() => void (chosenSaid.value = undefined))
const q = useDebounce(find, 150)
const purse = useQuery({
  queryKey: computed(() => keys.computed('wallet', props.id, q.value)),
  queryFn: ({ signal }) =>
    ask(api.GET('/api/bench/{id}/wallet', { params: { ...path, query: { q: q.value } }, signal })),
  placeholderData: keepPreviousData,
  shallow: true,
})
const wallet = computed<Schemas['WalletCard'][]>(() => purse.data.value ?? [])
watch(q, () => (picked.value = 0))

const zone = computed(() => site.door(props.id)?.zone ?? 'UTC')
const latest = computed(() =>
  bench.value?.said.find((s) => (chosenSaid.value ? s.seq === chosenSaid.value : answers.has(s.kind))),
)
watch(latest, (s) => (benchSaid.value = s), { immediate: true })
const present = (out = false) => {
  const c = wallet.value[picked.value]
  if (c) void play({ do: 'present', bits: c.bits, out })
}
const network = () => void play(() => ({ do: bench.value?.network ? 'unplug' : 'plug' }))
const power = () => void play(() => ({ do: bench.value?.power ? 'power-cut' : 'power-back' }))
const wire = () => void play(() => ({ do: bench.value?.wire ? 'wire-mend' : 'wire-cut' }))
const reader = () => void play(() => ({ do: bench.value?.readers[0] ? 'reader-unplug' : 'reader-plug' }))
const type = (keys: string) => void play({ do: 'keys', keys })
async function setClock(text: string) {
  await play({ do: 'clock', clock: text })
  if (!problem.value) clockText.value = ''
}
// Several cards in hand are presented one after the other; a second door stands beside, as of an interlock.
const route = useRoute()
const router = useRouter()
const cards = ref<Schemas['WalletCard'][]>([])
const takes = (c: Schemas['WalletCard']) =>
  (cards.value = cards.value.some((x) => x.bits === c.bits)
    ? cards.value.filter((x) => x.bits !== c.bits)
    : [...cards.value, c])
const presentAll = () => cards.value.forEach((c) => void play({ do: 'present', bits: c.bits }))
const beside = computed({
  get: () => Number(route.query.beside ?? 0),
  set: (id: number) => void router.replace({ query: { ...route.query, beside: id || undefined } }),
})
const twin = computed(() => beside.value > 0 && beside.value !== props.id)
const other = useTemplateRef('other')
/** Two people at one instant: the first card in hand here, the second there; one card alone at both. */
const both = () => {
  const [a, b] = [cards.value[0] ?? wallet.value[picked.value], cards.value[1] ?? cards.value[0]]
  if (!a) return
  void play({ do: 'present', bits: a.bits })
  void other.value?.present((b ?? a).bits)
}
const presentNumber = () => {
  if (number.value !== undefined)
    void play({
      do: 'present',
      format: facility.value === undefined ? 'raw' : '26-bit',
      facility: facility.value ?? 0,
      number: number.value,
    })
}
const pick = (by: number) => {
  const n = wallet.value.length
  if (n) picked.value = (picked.value + n + by) % n
}
/** Enter on a button or a link is that button's. */
const enter = (e: KeyboardEvent) => {
  const t = e.target as HTMLElement
  if (t.closest('button:not([role=option]), a, summary, [role=tree], [role=grid], [role=button]')) t.click()
  else present()
}
useKeys('The bench', [
  { keys: 'Enter', what: 'Present the chosen card', run: enter },
  { keys: 'ArrowRight', what: 'Choose the next card', run: () => pick(1) },
  { keys: 'ArrowLeft', what: 'Choose the card before', run: () => pick(-1) },
  { keys: '0 1 2 3 4 5 6 7 8 9 * #', what: 'The keypad', run: (e) => type(e.key) },
  { keys: 'h', what: 'Take the chosen card in hand, or put it back', run: () => takes(wallet.value[picked.value]!) },
  { keys: 'a', what: 'Present all cards in hand, one after the other', run: presentAll },
  { keys: 'o', what: 'Open or close', run: () => void leaf() },
  { keys: 'e', what: 'Exit request', run: () => void exit() },
  { keys: 'n', what: 'Cut or plug the network', run: network },
])
const now = useNow({ interval: 1000 })
const seenAt = ref(Date.now())
watch(bench, () => (seenAt.value = Date.now()))
const clock = computed(() => (bench.value ? bench.value.clock + Math.max(0, now.value.getTime() - seenAt.value) : 0))

onBeforeUnmount(() => (benchSaid.value = chosenSaid.value = undefined))
</script>

<template>
  <div>
    <p v-if="bench" class="mb-2 text-ash">
      Plays on {{ bench.unit }} · its clock shows
      <b class="font-mono text-[13px] text-ink">{{ dateOf(clock, zone) }} {{ timeOf(clock, zone) }}</b>
      <template v-if="bench.shifted">
        · <button class="underline" @click="setClock('now')">back to now</button></template
      >
    </p>
    <StateBox
      v-else
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="10"
    />
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <p v-if="bench && !bench.inForce" class="mb-3 rounded-md border border-wine bg-paper p-2.5">
      <b class="text-wine">The controller does not hold this door yet.</b>
      <RouterLink class="underline" to="/send">Send</RouterLink> first; until then it stays locked and answers nothing.
    </p>
    <p v-else-if="unsent" class="mb-3 text-[13px] text-wine">
      Something is not sent yet; the door still does what was sent last.
      <RouterLink class="underline" to="/send">Go to Send</RouterLink>
    </p>
    <p v-else-if="bench?.sentence" class="mb-3 border-l-4 border-amber py-0.5 pl-3 leading-relaxed">
      <StrongText :text="bench.sentence" />
    </p>

    <p v-if="bench?.fallen" class="mb-3 rounded-md border border-wine bg-paper p-2.5">
      <b class="text-wine">The controller has no power.</b> The lock {{ bench.fallen }}.
    </p>

    <div v-if="bench && door" class="space-y-3">
      <div class="grid grid-cols-7 gap-2" role="listbox" aria-label="Wallet">
        <button
          v-for="(w, i) in wallet"
          :key="w.bits"
          role="option"
          :aria-selected="i === picked"
          class="rounded-md border px-2 py-1.5 text-left"
          :class="[
            w.kind === 'known' ? 'border-copper/50 bg-mode-card' : 'border-seam bg-seam/60',
            i === picked ? 'outline-2 outline-offset-1 outline-ink' : '',
          ]"
          @click="picked = i"
          @dblclick="present()"
        >
          <b class="line-clamp-2 text-[12px] leading-tight" :title="w.label">{{ w.label }}</b><span
            class="block truncate font-mono text-[11px]"
            >{{ w.number }}</span
          >
        </button>
        <p v-if="!wallet.length" class="note col-span-7 py-2">Nobody's name or card has “{{ find }}”.</p>
      </div>
      <div class="flex flex-wrap items-center gap-2 text-[13px]">
        <input
          v-model="find"
          class="field w-52!"
          type="search"
          placeholder="Another person’s card"
          aria-label="Find a card"
        />
        <form class="flex items-center gap-1.5" @submit.prevent="presentNumber">
          <span class="text-ash">or any number</span>
          <input
            v-model.number="facility"
            class="field w-24! font-mono"
            type="number"
            min="0"
            placeholder="code"
            aria-label="Facility code"
          /><input
            v-model.number="number"
            class="field w-28! font-mono"
            type="number"
            min="0"
            placeholder="number"
            aria-label="Card number"
          />
          <button class="btn">Present it</button>
        </form>
      </div>
      <BenchHand
        v-model:cards="cards"
        v-model:beside="beside"
        :door="id"
        :picked="wallet[picked]"
        @take="takes"
        @all="presentAll"
        @both="both"
      />
      <div class="grid items-start gap-3" :class="twin ? 'grid-cols-2' : 'grid-cols-[minmax(0,1fr)_minmax(0,310px)]'">
        <section class="card overflow-hidden">
          <div class="card-head">
            <h2>{{ door.car ? 'In the car' : 'Touch the drawing, or use the keys' }}</h2>
            <span v-if="!door.car" class="note"
              >{{ bench.open ? 'open' : 'closed' }} · {{ bench.released ? 'released' : 'locked' }}</span
            >
          </div>
          <ElevatorBench v-if="door.car" :bench="bench" :door="door" :now="clock" :play="play" />
          <div v-else class="mx-auto max-w-[400px]">
            <DoorPortrait :door="door" :state="state" playable @present="present" @leaf="leaf" @exit="exit" />
          </div>
          <div class="flex flex-wrap gap-1.5 border-t border-seam p-2.5">
            <button class="btn px-2.5 py-1" @click="present()">Present card <span class="key">Enter</span></button>
            <button v-if="door.out.fitted" class="btn px-2.5 py-1" @click="present(true)">
              {{ door.car ? 'at the second reader' : 'at the reader out' }}
            </button>
            <button v-if="!door.car" class="btn px-2.5 py-1" @click="leaf">
              {{ bench.open ? 'Close' : 'Open' }} <span class="key">O</span>
            </button>
            <button v-if="door.exit !== 'none'" class="btn px-2.5 py-1" @click="exit">
              Exit <span class="key">E</span>
            </button>
            <button class="btn px-2.5 py-1" :class="bench.network ? '' : 'btn-wine'" @click="network">
              {{ bench.network ? 'Cut the network' : 'Plug the network in' }} <span class="key">N</span>
            </button>
            <button class="btn px-2.5 py-1" @click="reader">
              {{ bench.readers[0] ? 'Unplug reader' : 'Plug reader in' }}
            </button>
            <button class="btn px-2.5 py-1" :class="bench.power ? '' : 'btn-wine'" @click="power">
              {{ bench.power ? 'Cut the power' : 'Power back' }}
            </button>
            <button
              v-if="door.contact !== 'none'"
              class="btn px-2.5 py-1"
              :class="bench.wire ? 'btn-wine' : ''"
              @click="wire"
            >
              {{ bench.wire ? 'Mend the contact’s wire' : 'Cut the contact’s wire' }}
            </button>
            <span v-if="!bench.network" class="note self-center text-wine"
              >off the network, decides alone; {{ bench.kept }} events kept</span
            >
          </div>
          <BenchArea v-if="bench.area" :area="bench.area" :play="play" />
          <BenchKeypad :fitted="door.in.keypad" @pressed="type" />
          <form
            class="flex flex-wrap items-center gap-1.5 border-t border-seam p-2.5"
            @submit.prevent="setClock(clockText)"
          >
            <label class="label mr-1" for="clock">Make it</label>
            <input id="clock" v-model="clockText" class="field w-44! font-mono" placeholder="Sat 16:59:50" />
            <button class="btn px-2.5 py-1" :disabled="!clockText.trim()">Set its clock</button>
            <button v-if="bench.shifted" type="button" class="btn btn-quiet px-1" @click="setClock('now')">
              back to now
            </button>
          </form>
        </section>
        <BenchBeside
          v-if="twin"
          :id="beside"
          ref="other"
          :key="beside"
          :name="site.door(beside)?.name ?? 'The other door'"
          :card="(cards[0] ?? wallet[picked])?.bits"
          @away="beside = 0"
        />
        <BenchLog v-model:chosen="chosenSaid" :bench="bench" :latest="latest?.seq" :zone="zone" />
      </div>
      <LockLeaf
        v-if="!door.car"
        :said="bench.said"
        :zone="zone"
        :clock="clock"
        :open="bench.open"
        :released="bench.released"
      />
    </div>
  </div>
</template>
