<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, nextTick, onScopeDispose, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import type { FirstDoors } from './first'

/** Cards, presented one after another, and whose each is; or a file with names and numbers. */
const props = defineProps<{ all: FirstDoors }>()
const { first, boxes } = props.all
const query = useComputed(
  'first reads',
  () => [],
  (signal) => ask(api.GET('/api/first-reads', { signal })),
)
const again = useDebounceFn(() => query.refetch(), 40)
onScopeDispose(listen((n) => n.type === 'found' && void again()))
const began = Date.now()
const lit = ref('')
const said = ref('')
const list = ref<HTMLElement>()
let seen = -1
watch(
  () => query.data.value,
  (reads) => {
    if (!reads) return
    if (seen < 0) seen = Math.max(0, ...reads.filter((r) => r.at < began - 600_000).map((r) => r.at))
    for (const r of reads.filter((x) => x.at > seen)) took(r)
    seen = Math.max(seen, ...reads.map((r) => r.at))
  },
  { immediate: true },
)
function took(r: Schemas['FirstRead']) {
  if (!r.value) return void (said.value = `A card at ${r.serial} ${r.reader.toUpperCase()}: ${r.words}.`)
  if (r.holder) return void (said.value = `Card ${r.value} is ${r.holder}’s already.`)
  said.value = ''
  lit.value = r.value
  if (first.value.cards.some((c) => c.value === r.value)) return
  first.value.cards.push({ format: r.format, value: r.value, name: '', at: r.at, id: 0 })
  void nextTick(() => {
    const fields = [...(list.value?.querySelectorAll<HTMLInputElement>('input') ?? [])]
    // Whoever is typing a name goes on; else the first without one is next.
    if (!fields.includes(document.activeElement as HTMLInputElement)) fields.find((x) => !x.value)?.focus()
  })
}
function nextName(i: number) {
  const fields = [...(list.value?.querySelectorAll<HTMLInputElement>('input') ?? [])]
  const next = fields.slice(i + 1).find((x) => !x.value) ?? fields.find((x) => !x.value)
  if (next) next.focus()
  else fields[i]?.blur()
}
const drop = (value: string) => (first.value.cards = first.value.cards.filter((c) => c.value !== value))

/** A box of cards lies at a stand-in: the next number of it is presented at the first reader. */
const next = ref(12001)
const standIn = computed(() => boxes.value[0])
async function present() {
  try {
    await ask(
      api.POST('/api/found/{serial}/hand', {
        params: { path: { serial: standIn.value!.serial } },
        body: { do: 'present', at: 'r1', facility: 42, number: next.value },
      }),
    )
    next.value++
    said.value = ''
  } catch (e) {
    said.value = (e as Error).message
  }
}
/** A file with a name and a card number on each line. */
async function load(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (!file) return
  const bad: number[] = []
  const lines = (await file.text()).split(/\r?\n/)
  lines.forEach((line, i) => {
    if (!line.trim() || (i === 0 && /name/i.test(line))) return
    const cells = line.split(/[;,\t]/).map((c) => c.trim().replace(/^"|"$/g, ''))
    const number = cells.find((c) => /^(\d+-)?\d+$/.test(c))
    const name = cells.find((c) => c && c !== number)
    if (!number || !name) return void bad.push(i + 1)
    if (!first.value.cards.some((c) => c.value === number))
      first.value.cards.push({ format: number.includes('-') ? '26-bit' : 'raw', value: number, name, at: 0, id: 0 })
  })
  said.value = bad.length ? `Left out, without a name or a number: line ${bad.join(', ')}.` : ''
}
const named = computed(() => first.value.cards.filter((c) => c.name.trim()).length)
</script>

<template>
  <section class="card" aria-label="Cards">
    <div class="card-head flex-wrap">
      <h2>Cards</h2>
      <span class="note">{{ first.cards.length }} presented, {{ named }} named</span>
      <label class="btn ml-auto cursor-pointer px-2 py-0.5"
        >From a file …<input type="file" class="sr-only" accept=".csv,.txt" @change="load"
      /></label>
      <button v-if="standIn" type="button" class="btn px-2 py-0.5" @click="present">
        Present the next card of a box
      </button>
    </div>
    <p v-if="said" role="status" class="px-3.5 pt-2 font-semibold text-wine">{{ said }}</p>
    <p v-if="!first.cards.length" class="p-3.5 text-ash">
      Waiting for cards. Present one after another at any reader of
      {{ boxes.map((b) => b.name).join(', ') || 'a chosen controller' }}.
    </p>
    <div ref="list">
      <div v-for="(c, i) in first.cards" :key="c.value" class="row" :class="lit === c.value ? 'bg-mode-card/50' : ''">
        <span class="w-8 text-right font-mono text-ash">{{ i + 1 }}</span>
        <b class="w-32 font-mono">{{ c.value }}</b>
        <input
          v-model="c.name"
          class="field flex-1 py-1"
          :aria-label="`Whose card ${c.value} is`"
          placeholder="whose card"
          @keydown.enter.prevent="nextName(i)"
        />
        <span v-if="lit === c.value" class="pill bg-amber text-amber-ink">last</span>
        <button type="button" class="btn btn-quiet px-1 py-0 text-[12px]" tabindex="-1" @click="drop(c.value)">
          Drop
        </button>
      </div>
    </div>
    <p v-if="first.cards.length > named" class="note border-t border-seam px-3.5 py-2">
      Cards without a name are left out; present them again later.
    </p>
  </section>
</template>
