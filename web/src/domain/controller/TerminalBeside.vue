<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import { sure } from '../../ui/sure'
import NamedWire from './NamedWire.vue'
import { roleWords, type Terminal } from './terminals'

/** One terminal, whole: what it says, what is on it, what else may be, and how it is tried. */
const props = defineProps<{
  controller: number
  terminal: Terminal
  all: Terminal[]
  online: boolean
  standIn: boolean
}>()
const emit = defineEmits<{ moved: [words: string, at: string] }>()
const { attempt, busy, problem } = useAttempt()
const path = computed(() => ({ path: { id: props.controller } }))
const naming = ref(false)
watch(
  () => props.terminal.at,
  () => ((naming.value = false), (problem.value = '')),
)
const choices = useComputed(
  'choices',
  () => [props.controller, props.terminal.at],
  (signal) =>
    ask(
      api.GET('/api/controllers/{id}/choices', {
        params: { ...path.value, query: { at: props.terminal.at } },
        signal,
      }),
    ),
  () => props.terminal.kind !== 'power' && !props.terminal.use,
)
const free = computed(() => props.all.filter((t) => t.kind === props.terminal.kind && !t.use))
const named = computed(() => props.terminal.use?.kind === 'input' || props.terminal.use?.kind === 'output')
const removable = computed(
  () => !!props.terminal.use && props.terminal.use.role !== 'lock' && props.terminal.use.role !== 'reader in',
)

const put = (c: Schemas['Choice']) =>
  attempt(async () => {
    const r = await ask(
      api.POST('/api/terminals/move', { body: { kind: c.kind, id: c.id, role: c.role, to: props.terminal.at } }),
    )
    emit('moved', r.words, props.terminal.at)
  })
const moveTo = (to: string) =>
  attempt(async () => {
    const u = props.terminal.use!
    const r = await ask(
      api.POST('/api/terminals/move', {
        body: { kind: u.kind, id: u.id, to, ...(u.kind === 'door' ? { role: u.role as 'contact' } : {}) },
      }),
    )
    emit('moved', r.words, to)
  })
const takeOff = () =>
  attempt(async () => {
    const u = props.terminal.use!
    const what = u.kind === 'door' ? `the ${u.role} of ${u.name}` : u.name
    if (
      !(await sure(
        `Take ${what} off ${props.terminal.label}?`,
        'The terminal is free then. History can bring it back.',
        'Take it off',
      ))
    )
      return
    const r = await ask(
      api.POST('/api/terminals/take-off', {
        body: { kind: u.kind, id: u.id, ...(u.kind === 'door' ? { role: u.role as 'contact' } : {}) },
      }),
    )
    emit('moved', r.words, props.terminal.at)
  })
const tryIt = () =>
  attempt(async () => {
    const lock = props.terminal.use?.role === 'lock'
    if (
      lock &&
      !(await sure(
        `Release ${props.terminal.use!.name} for three seconds?`,
        'Whoever stands there can go through, whatever the door asks.',
        'Release it',
      ))
    )
      return
    await ask(api.POST('/api/controllers/{id}/try', { params: path.value, body: { at: props.terminal.at } }))
    emit('moved', `${props.terminal.label} is on for three seconds.`, props.terminal.at)
  })
const beep = () =>
  attempt(async () => {
    await ask(api.POST('/api/controllers/{id}/beep', { params: path.value, body: { at: props.terminal.at } }))
    emit('moved', 'The reader beeps and blinks for four seconds.', props.terminal.at)
  })
const power = (on: boolean) =>
  attempt(async () => {
    if (
      !on &&
      !(await sure(
        `Cut the power of the reader at ${props.terminal.use?.name ?? props.terminal.label}?`,
        'Nobody passes by it until the power is back. Do this to restart a reader that hangs.',
        'Cut it',
      ))
    )
      return
    await ask(
      api.POST('/api/controllers/{id}/reader-power', { params: path.value, body: { at: props.terminal.at, on } }),
    )
    emit('moved', on ? 'The reader has power again.' : 'The reader has no power.', props.terminal.at)
  })
/** Ends what an input began: a fire release or a lockdown goes on until somebody ends it. */
const ends = computed(
  () => ({ 'fire release': 'fire', lockdown: 'lockdown' })[props.terminal.use?.role ?? ''] as 'fire' | undefined,
)
const end = () =>
  attempt(async () => {
    await ask(api.POST('/api/controllers/{id}/end', { params: path.value, body: { what: ends.value! } }))
    emit('moved', `The ${props.terminal.use!.role} has ended.`, props.terminal.at)
  })
const hand = (
  what: 'cut' | 'short' | 'mend' | 'open' | 'close' | 'mains' | 'battery' | 'lid' | 'reader' | 'cover',
  on = false,
) =>
  attempt(async () => {
    await ask(
      api.POST('/api/controllers/{id}/hand', {
        params: path.value,
        body: { do: what, on, ...(props.terminal.kind === 'power' ? {} : { at: props.terminal.at }) },
      }),
    )
  })
const own = computed(() => props.terminal.at as 'mains' | 'battery' | 'lid')
const hands: Record<string, [string, string]> = {
  mains: ['Cut the mains', 'Mains back'],
  battery: ['Let the battery run low', 'Battery good'],
  lid: ['Open the box', 'Close the box'],
}
</script>

<template>
  <h2 class="flex items-baseline gap-2">
    <span class="font-mono">{{ terminal.label }}</span>{{
      terminal.kind === 'power' ? '' : roleWords(terminal).toLowerCase()
    }}
    <span v-if="terminal.use?.kind === 'door'" class="font-normal"
      >of
      <RouterLink class="underline" :to="`/build/doors/${terminal.use.id}`">{{ terminal.use.name }}</RouterLink></span
    >
    <span v-else-if="terminal.use">{{ terminal.use.name }}</span>
  </h2>
  <dl class="card text-[13px]">
    <div class="row">
      <dt class="w-20 text-ash">Says</dt>
      <dd class="font-bold" :class="terminal.state === 'fault' ? 'text-wine' : ''">
        {{ terminal.words || (terminal.use ? 'nothing yet' : 'nothing') }}
      </dd>
    </div>
    <div v-if="terminal.measures" class="row">
      <dt class="w-20 text-ash">Measures</dt>
      <dd class="font-mono">{{ terminal.measures }}</dd>
    </div>
    <div v-if="terminal.normal" class="row">
      <dt class="w-20 text-ash">Wired</dt>
      <dd>{{ terminal.normal }}</dd>
    </div>
    <div v-if="terminal.wiring" class="row">
      <dt class="w-20 text-ash">Connected</dt>
      <dd>{{ terminal.wiring }}</dd>
    </div>
  </dl>
  <p v-if="terminal.detail" class="text-[13px] leading-relaxed">{{ terminal.detail }}</p>
  <p v-if="problem" role="alert" class="text-[13px] font-semibold text-wine">{{ problem }}</p>

  <div v-if="terminal.kind !== 'power'" class="flex flex-wrap gap-2">
    <template v-if="terminal.kind === 'output'"
      ><button class="btn px-2 py-1" :disabled="!online || busy" @click="tryIt">Try it for 3 s</button></template
    >
    <template v-if="terminal.kind === 'reader' && terminal.use">
      <button class="btn px-2 py-1" :disabled="!online || busy" @click="beep">Beep</button>
      <button v-if="terminal.powered" class="btn px-2 py-1" :disabled="!online || busy" @click="power(false)">
        Cut its power
      </button>
      <button v-else class="btn btn-amber px-2 py-1" :disabled="!online || busy" @click="power(true)">
        Power back
      </button>
    </template>
    <button v-if="ends" class="btn px-2 py-1" :disabled="!online || busy" @click="end">
      End the {{ terminal.use!.role }}
    </button>
    <button v-if="removable" class="btn px-2 py-1" :disabled="busy" @click="takeOff">Take off</button>
  </div>

  <NamedWire v-if="named" :id="terminal.use!.id" :key="terminal.use!.id" :kind="terminal.use!.kind as 'input'" />

  <template v-if="terminal.use">
    <template v-if="free.length">
      <h2>Move it to</h2>
      <div class="flex flex-wrap gap-1.5">
        <button
          v-for="t in free"
          :key="t.at"
          class="btn px-2 py-0.5 font-mono text-[12px]"
          :aria-label="`Move to ${t.label}`"
          :disabled="busy"
          @click="moveTo(t.at)"
        >
          {{ t.label }}
        </button>
      </div>
      <p class="note">Or drag it. Double use is not possible.</p>
    </template>
    <p v-else class="note">No other terminal of this kind is free here; an expander adds some.</p>
  </template>
  <template v-else-if="terminal.kind !== 'power'">
    <h2>Put something here</h2>
    <NamedWire
      v-if="naming"
      :id="0"
      :kind="terminal.kind === 'input' ? 'input' : 'output'"
      :controller="controller"
      :at="terminal.at"
      @done="naming = false"
    />
    <div v-else class="card max-h-72 overflow-auto text-[13px]">
      <button
        v-if="terminal.kind !== 'reader'"
        class="row w-full text-left hover:bg-lime"
        :disabled="busy"
        @click="naming = true"
      >
        {{ terminal.kind === 'input' ? 'A named input …' : 'A named output …' }}
      </button>
      <button
        v-for="c in choices.data.value ?? []"
        :key="`${c.kind} ${c.id} ${c.role}`"
        class="row w-full text-left hover:bg-lime"
        :disabled="busy"
        :title="c.words"
        @click="put(c)"
      >
        <span class="min-w-0 flex-1"
          >{{ c.role ? `${c.role.charAt(0).toUpperCase()}${c.role.slice(1)} of ` : '' }}<b>{{ c.name }}</b></span
        ><span class="font-mono text-[11px] text-ash">{{ c.from ? `from ${c.from.toUpperCase()}` : 'new' }}</span>
      </button>
      <p v-if="!choices.data.value?.length && terminal.kind === 'reader'" class="p-3 text-ash">
        No door of this controller has a reader that could hang here.
      </p>
    </div>
  </template>

  <template v-if="standIn && terminal.kind !== 'output'">
    <h2>At the stand-in</h2>
    <div class="flex flex-wrap gap-1.5">
      <template v-if="terminal.kind === 'input'">
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('cut')">Cut the wire</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('short')">Short it</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('mend')">Mend it</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('close')">Close the switch</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('open')">Open it</button>
      </template>
      <template v-else-if="terminal.kind === 'reader'">
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('reader')">Unplug it</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('reader', true)">Plug it in</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('cover')">Open its cover</button>
        <button class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand('cover', true)">Close it</button>
      </template>
      <template v-else>
        <button
          v-if="terminal.state !== 'fault'"
          class="btn px-2 py-0.5 text-[12px]"
          :disabled="busy"
          @click="hand(own)"
        >
          {{ hands[own]![0] }}
        </button>
        <button v-else class="btn px-2 py-0.5 text-[12px]" :disabled="busy" @click="hand(own, true)">
          {{ hands[own]![1] }}
        </button>
      </template>
    </div>
  </template>
</template>
