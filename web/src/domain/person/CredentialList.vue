<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useAll } from '../../core/query'
import DateRange from '../../ui/DateRange.vue'
import CredentialTyped from './CredentialTyped.vue'
import EnrolCard from './EnrolCard.vue'

/** What a person shows at readers: presented, typed, or out of the box of free cards; each with its state and dates. */
const credentials = defineModel<Schemas['Credential'][]>({ required: true })
const props = defineProps<{ fields: Record<string, string>; whose: string }>()
const emit = defineEmits<{ said: [words: string] }>()
type Credential = Schemas['Credential']
const how = ref<'' | 'type' | 'free'>('')
const free = useAll('free card', () => how.value === 'free')
/** Which of them is being replaced; the next that comes takes its place. */
const replacing = ref(-1)

/** A new one: it takes the place of the one that is replaced, with its dates, and that one is lost. */
function add(c: Credential) {
  const old = credentials.value[replacing.value]
  if (old) {
    old.status = 'lost'
    c = { ...c, ...(old.from ? { from: old.from } : {}), ...(old.until ? { until: old.until } : {}) }
    emit('said', `${c.value} takes the place of ${old.value}, which is marked lost once saved.`)
  }
  credentials.value.push(c)
  replacing.value = -1
  how.value = ''
}
function took(c: { format: string; value: string; words: string; door: string }) {
  if (replacing.value < 0)
    emit('said', `Card ${c.words} was presented at ${c.door}; it is ${props.whose || 'this person'}'s once saved.`)
  add({ kind: 'card', format: c.format, value: c.value, status: 'active' })
}
const wrong = (i: number, ...names: string[]) => names.map((n) => props.fields[`credentials[${i}].${n}`]).find(Boolean)
</script>

<template>
  <section class="card" aria-label="What they carry">
    <div class="card-head">
      <h2>What they carry</h2>
      <span class="note">{{ credentials.length || 'nothing yet' }}</span>
    </div>
    <p v-if="!credentials.length" class="px-3.5 py-2.5 text-ash">
      No card. Let them present one at a reader, type its number, or take one out of the box.
    </p>
    <div v-for="(c, i) in credentials" :key="i" class="row flex-wrap gap-x-2 py-1.5">
      <span class="w-[52px] text-[12.5px] text-ash">{{ c.format ?? c.kind }}</span><b
        class="min-w-24 flex-1 truncate font-mono"
        :class="c.status === 'active' ? '' : 'text-ash line-through'"
        :title="c.value"
        >{{ c.value }}</b
      >
      <select
        v-model="c.status"
        class="field w-[104px]! py-0.5"
        :class="c.status === 'active' ? '' : 'font-semibold text-wine'"
        :aria-label="`State of ${c.kind} ${c.value}`"
      >
        <option v-for="s in ['active', 'lost', 'stolen', 'suspended', 'expired']" :key="s">{{ s }}</option>
      </select>
      <span class="flex w-full flex-wrap items-center gap-x-2">
        <DateRange
          v-model:from="c.from"
          v-model:until="c.until"
          :what="`${c.kind} ${c.value}`"
          :problem="wrong(i, 'from', 'until')"
        />
        <span v-if="wrong(i, 'value')" data-wrong class="text-[12px] font-semibold text-wine">{{
          wrong(i, 'value')
        }}</span>
        <button
          v-if="c.status === 'active'"
          type="button"
          class="btn btn-quiet ml-auto px-1 text-[12.5px]"
          :class="replacing === i ? 'text-wine' : ''"
          :aria-label="`Replace ${c.kind} ${c.value}`"
          :aria-pressed="replacing === i"
          @click="replacing = replacing === i ? -1 : i"
        >
          {{ replacing === i ? 'Keep it' : 'Replace' }}
        </button>
        <button
          class="btn btn-quiet px-1 text-[12.5px]"
          :class="c.status === 'active' ? '' : 'ml-auto'"
          :aria-label="`Take away ${c.kind} ${c.value}`"
          @click="credentials.splice(i, 1)"
        >
          Take away
        </button>
      </span>
    </div>
    <p v-if="replacing >= 0" role="status" class="row text-[13px]">
      Present or type the new one: it takes over the dates of {{ credentials[replacing]?.value }}, which is marked lost.
    </p>
    <div class="row flex-wrap gap-2">
      <EnrolCard @took="took" />
      <button
        type="button"
        class="btn px-2.5 py-1"
        :aria-expanded="how === 'type'"
        @click="how = how === 'type' ? '' : 'type'"
      >
        Type …
      </button>
      <button
        type="button"
        class="btn px-2.5 py-1"
        :aria-expanded="how === 'free'"
        @click="how = how === 'free' ? '' : 'free'"
      >
        From the box …
      </button>
    </div>
    <CredentialTyped v-if="how === 'type'" @add="add" />
    <div v-if="how === 'free'" class="row flex-wrap gap-1.5" aria-label="Free cards">
      <p v-if="free.isSuccess.value && !free.data.value?.length" class="text-[13px] text-ash">
        No card lies there. Cards that are presented in People, Free cards are kept in it.
      </p>
      <button
        v-for="f in (free.data.value ?? []).slice(0, 24)"
        :key="f.value.id"
        type="button"
        class="btn px-2 py-0.5 font-mono text-[12.5px]"
        @click="add({ kind: f.value.kind, format: f.value.format, value: f.value.value, status: 'active' })"
      >
        {{ f.value.value }}
      </button>
    </div>
  </section>
</template>
