<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { calmly, listen, playing } from '../../api/live'
import DoorPortrait from '../../parts/DoorPortrait.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import StrongText from '../../parts/StrongText.vue'
import TraceList from '../../parts/TraceList.vue'
import { useSite } from '../../site'
import { dateOf, modeName, timeOf } from '../../words'
import LockLeaf from './LockLeaf.vue'

type Said = Schemas['Said']
const site = useSite()
const id = Number(useRoute().params.id)
const path = { path: { id } }
const door = ref<Schemas['Door']>()
const bench = ref<Schemas['Bench']>()
const wallet = ref<Schemas['WalletCard'][]>([])
const picked = ref(0)
const chosen = ref<number>()
const find = ref('')
const facility = ref<number>()
const number = ref<number>()
const clockText = ref('')
const problem = ref('')
const pin = ref('')

const zone = computed(() => site.doors.find((d) => d.id === id)?.zone ?? 'UTC')
const answers = new Set(['granted', 'refused', 'awaiting-pin', 'forced', 'held-open', 'not-taken', 'keypad-locked', 'duress', 'held-warning'])
const latest = computed<Said | undefined>(() => bench.value?.said.find((s) => (chosen.value ? s.seq === chosen.value : answers.has(s.kind))))
const notSent = ref(false)

async function load() {
  try {
    door.value = (await ask(api.GET('/api/doors/{id}', { params: path }))).value
    bench.value = await ask(api.GET('/api/bench/{id}', { params: path }))
    wallet.value = await ask(api.GET('/api/bench/{id}/wallet', { params: path }))
    const sheet = await ask(api.GET('/api/doors/{id}/sheet', { params: path }))
    notSent.value = sheet.unsent.length > 0
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
let timer = 0
const soon = calmly(async () => { notSent.value = (await ask(api.GET('/api/doors/{id}/sheet', { params: path }))).unsent.length > 0 }, 400)
watch(find, (q) => {
  clearTimeout(timer)
  timer = window.setTimeout(async () => {
    wallet.value = await ask(api.GET('/api/bench/{id}/wallet', { params: { ...path, query: { q } } }))
    picked.value = 0
  }, 150)
})
const stop = listen((n) => {
  if (n.bench && n.bench.doorId === id) bench.value = n.bench
  if (n.type === 'config' || n.type === 'units') soon()
})
/** Hands act one after the other, however fast the keys come; what turns something round looks at it when its turn comes. */
let queue = Promise.resolve()
type Hand = Schemas['BenchHand']
const play = (hand: Hand | (() => Hand)) => (queue = queue.then(() => act(typeof hand === 'function' ? hand() : hand)))
async function act(hand: Hand) {
  try {
    bench.value = await ask(api.POST('/api/bench/{id}', { params: path, body: hand }))
    problem.value = ''
    chosen.value = undefined
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const present = (out = false) => { const c = wallet.value[picked.value]; if (c) void play({ do: 'present', bits: c.bits, out }) }
const leaf = () => play(() => ({ do: bench.value?.open ? 'close' : 'open' }))
async function exit() {
  await play({ do: 'press' })
  await play({ do: 'release' })
}
const network = () => play(() => ({ do: bench.value?.network ? 'unplug' : 'plug' }))
const reader = () => play(() => ({ do: bench.value?.readers[0] ? 'reader-unplug' : 'reader-plug' }))
async function type(keys: string) {
  pin.value = (pin.value + keys).slice(-8)
  await play({ do: 'keys', keys })
}
async function setClock(text: string) {
  await play({ do: 'clock', clock: text })
  if (!problem.value) clockText.value = ''
}
const presentNumber = () => { if (number.value !== undefined) void play({ do: 'present', format: facility.value === undefined ? 'raw' : '26-bit', facility: facility.value ?? 0, number: number.value }) }

function key(e: KeyboardEvent) {
  const t = e.target as HTMLElement
  if (/INPUT|TEXTAREA|SELECT/.test(t.tagName) || e.ctrlKey || e.altKey || e.metaKey) return
  const k = e.key.toLowerCase()
  if (e.key === 'Enter' && (t.role === 'option' || !/^(BUTTON|A|g)$/.test(t.tagName))) present()
  else if (/^[0-9#*]$/.test(k)) void type(k)
  else if (k === 'o') void leaf()
  else if (k === 'e') void exit()
  else if (k === 'n') void network()
  else if (e.key === 'ArrowRight') picked.value = (picked.value + 1) % wallet.value.length
  else if (e.key === 'ArrowLeft') picked.value = (picked.value + wallet.value.length - 1) % wallet.value.length
  else return
  e.preventDefault()
}
const now = ref(Date.now())
const ticking = setInterval(() => (now.value = Date.now()), 1000)
const seenAt = ref(Date.now())
watch(bench, () => { seenAt.value = now.value = Date.now() })
const clock = computed(() => (bench.value ? bench.value.clock + (now.value - seenAt.value) : 0))

onMounted(() => { void load(); playing(id); window.addEventListener('keydown', key) })
onBeforeUnmount(() => { stop(); playing(0); clearInterval(ticking); clearTimeout(timer); soon.cancel(); window.removeEventListener('keydown', key) })

const state = computed(() => ({ released: bench.value?.released ?? false, open: bench.value?.open ?? false, alarm: bench.value?.alarm, shows: bench.value?.shows, readers: bench.value?.readers }))
const said = computed(() => (bench.value?.said ?? []).slice(0, 12))
</script>

<template>
  <SheetFrame :title="`Bench: ${door?.name ?? ''}`">
    <template #under>
      <template v-if="bench">
        Plays on {{ bench.unit }} · its clock shows <b class="font-mono text-[13px] text-ink">{{ dateOf(clock, zone) }} {{ timeOf(clock, zone) }}</b>
        <template v-if="bench.shifted"> · <button class="underline" @click="setClock('now')">back to now</button></template>
      </template>
    </template>
    <template #actions><RouterLink class="btn" :to="`/build/doors/${id}`">Its sheet</RouterLink></template>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <p v-if="bench && !bench.inForce" class="mb-3 rounded-md border border-wine bg-paper p-2.5"><b class="text-wine">The controller does not hold this door yet.</b> <RouterLink class="underline" to="/send">Send</RouterLink> first; until then it stays locked and answers nothing.</p>
    <p v-else-if="notSent" class="mb-3 text-[13px] text-wine">Something is not sent yet; the door still does what was sent last. <RouterLink class="underline" to="/send">Go to Send</RouterLink></p>
    <p v-else-if="bench?.sentence" class="mb-3 border-l-4 border-amber py-0.5 pl-3 leading-relaxed"><StrongText :text="bench.sentence" /></p>

    <div v-if="bench && door" class="space-y-3">
      <div class="grid grid-cols-7 gap-2" role="listbox" aria-label="Wallet">
        <button
          v-for="(w, i) in wallet" :key="w.bits" role="option" :aria-selected="i === picked"
          class="rounded-md border px-2 py-1.5 text-left" :class="[w.kind === 'known' ? 'border-copper/50 bg-mode-card' : 'border-seam bg-seam/60', i === picked ? 'outline-2 outline-offset-1 outline-ink' : '']"
          @click="picked = i" @dblclick="present()"
        >
          <b class="line-clamp-2 text-[12px] leading-tight" :title="w.label">{{ w.label }}</b><span class="block truncate font-mono text-[11px]">{{ w.number }}</span>
        </button>
        <p v-if="!wallet.length" class="note col-span-7 py-2">Nobody's name or card has “{{ find }}”.</p>
      </div>
      <div class="flex flex-wrap items-center gap-2 text-[13px]">
        <input v-model="find" class="field w-52!" type="search" placeholder="Another person’s card" aria-label="Find a card" />
        <form class="flex items-center gap-1.5" @submit.prevent="presentNumber">
          <span class="text-ash">or any number</span>
          <input v-model.number="facility" class="field w-24! font-mono" type="number" min="0" placeholder="code" aria-label="Facility code" /><input v-model.number="number" class="field w-28! font-mono" type="number" min="0" placeholder="number" aria-label="Card number" />
          <button class="btn">Present it</button>
        </form>
      </div>
      <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,310px)] gap-3">
        <section class="card overflow-hidden">
          <div class="card-head"><h2>Touch the drawing, or use the keys</h2><span class="note">{{ bench.open ? 'open' : 'closed' }} · {{ bench.released ? 'released' : 'locked' }}</span></div>
          <div class="mx-auto max-w-[400px]"><DoorPortrait :door="door" :state="state" playable @present="present" @leaf="leaf" @exit="exit" /></div>
          <div class="flex flex-wrap gap-1.5 border-t border-seam p-2.5">
            <button class="btn px-2.5 py-1" @click="present()">Present card <span class="key">Enter</span></button>
            <button v-if="door.out.fitted" class="btn px-2.5 py-1" @click="present(true)">at the reader out</button>
            <button class="btn px-2.5 py-1" @click="leaf">{{ bench.open ? 'Close' : 'Open' }} <span class="key">O</span></button>
            <button v-if="door.exit !== 'none'" class="btn px-2.5 py-1" @click="exit">Exit <span class="key">E</span></button>
            <button class="btn px-2.5 py-1" :class="bench.network ? '' : 'btn-wine'" @click="network">{{ bench.network ? 'Cut the network' : 'Plug the network in' }} <span class="key">N</span></button>
            <button class="btn px-2.5 py-1" @click="reader">{{ bench.readers[0] ? 'Unplug reader' : 'Plug reader in' }}</button>
            <span v-if="!bench.network" class="note self-center text-wine">off the network, decides alone; {{ bench.kept }} events kept</span>
          </div>
          <div class="flex flex-wrap items-center gap-1 border-t border-seam p-2.5">
            <span class="label mr-1">PIN</span>
            <button v-for="k in ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0', '*', '#']" :key="k" class="btn size-7 p-0 font-mono" :disabled="!door.in.keypad" :aria-label="`Key ${k}`" @click="type(k)">{{ k }}</button>
            <span v-if="!door.in.keypad" class="note">this reader has no keypad</span><span v-else class="note">ends with #, or by itself at the length of the longest PIN</span>
          </div>
          <form class="flex flex-wrap items-center gap-1.5 border-t border-seam p-2.5" @submit.prevent="setClock(clockText)">
            <label class="label mr-1" for="clock">Make it</label>
            <input id="clock" v-model="clockText" class="field w-44! font-mono" placeholder="Sat 16:59:50" />
            <button class="btn px-2.5 py-1" :disabled="!clockText.trim()">Set its clock</button>
            <button v-if="bench.shifted" type="button" class="btn btn-quiet px-1" @click="setClock('now')">back to now</button>
          </form>
        </section>
        <section class="card max-h-[560px] overflow-auto" aria-label="What the controller said">
          <div class="card-head"><h2>What the controller said</h2><span class="note">{{ modeName(bench.mode) }} now{{ bench.waits ? ', waits for its first card' : '' }}</span></div>
          <button v-for="s in said" :key="s.seq" class="row w-full items-start py-1.5 text-left text-[13px] hover:bg-lime" :class="latest?.seq === s.seq ? 'bg-mode-card/40' : ''" @click="chosen = s.seq">
            <span class="shrink-0 font-mono text-[12px]">{{ timeOf(s.at, zone) }}</span>
            <span class="min-w-0"><b>{{ s.headline }}</b>{{ s.person && ` ${s.person}` }}<span v-if="s.detail" class="note block text-[12px]">{{ s.detail }}</span></span>
          </button>
        </section>
      </div>
      <LockLeaf :said="bench.said" :zone="zone" :clock="clock" :open="bench.open" :released="bench.released" />
    </div>

    <template #aside>
      <template v-if="latest">
        <div class="rounded-lg p-3.5" :class="latest.outcome === 'granted' ? 'bg-kelp text-paper' : latest.outcome === 'refused' || latest.outcome === 'alarm' ? 'bg-wine text-paper' : 'border border-seam bg-paper'" role="status">
          <p class="text-[16px] font-bold">{{ latest.headline }}</p>
          <p>{{ latest.person }}<template v-if="latest.person && latest.detail">, </template>{{ latest.detail }}</p>
        </div>
        <template v-if="latest.trace.length"><h2>Why</h2><TraceList :lines="latest.trace" /></template>
        <template v-if="latest.mend"><h2>What would change it</h2><p class="card p-3 text-[13px] leading-relaxed">{{ latest.mend }}</p></template>
      </template>
      <p v-else class="card p-3 text-[13px] leading-relaxed text-ash">Choose a card and press Enter, or touch the reader in the drawing. What was decided, and why, stands here.</p>
    </template>
  </SheetFrame>
</template>
