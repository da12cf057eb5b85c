<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { useComputed } from '../core/query'
import { useSite } from '../core/site'
import { dateOf, timeOf } from '../words'
import { useAttempt } from './attempt'
import { sure } from './sure'

/** Who changed a thing, from what to what, and what that did; a change is undone as a new change. */
const props = defineProps<{ id: number; folded?: boolean }>()
const open = ref(!props.folded)
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const limit = ref(5)
const query = useComputed(
  'history of',
  () => [props.id, limit.value],
  (signal) => ask(api.GET('/api/history', { params: { query: { object: props.id, limit: limit.value } }, signal })),
  () => props.id > 0 && open.value,
)
const words = (c: Schemas['HistoryChange']) => `${c.field}: ${c.was || 'nothing'} → ${c.now || 'nothing'}`
const undo = (l: Schemas['HistoryLine']) =>
  attempt(async () => {
    const e = await ask(api.GET('/api/history/{id}/effect', { params: { path: { id: l.id } } }))
    if (!(await sure(`Undo what ${l.who} did?`, `${e.sentence} It takes effect once sent.`, 'Undo it'))) return
    await ask(api.POST('/api/history/{id}/undo', { params: { path: { id: l.id } } }))
    await query.refetch()
  })
</script>

<template>
  <h2>History</h2>
  <p v-if="problem" role="alert" class="text-[13px] font-semibold text-wine">{{ problem }}</p>
  <button v-if="!open" type="button" class="btn px-2 py-0.5 text-[13px]" @click="open = true">Who changed it …</button>
  <div v-else class="card text-[12.5px]" aria-label="History">
    <p v-if="query.data.value && !query.data.value.length" class="p-3 text-ash">Nobody has changed it yet.</p>
    <div v-for="l in query.data.value ?? []" :key="l.id" class="border-t border-seam px-3 py-2 first:border-t-0">
      <p>
        <b>{{ l.action }}</b> by {{ l.who }}
        <span class="note">{{ dateOf(l.at, site.zone) }} {{ timeOf(l.at, site.zone).slice(0, 5) }}</span>
      </p>
      <p v-for="c in l.changes" :key="c.field" class="break-words">{{ words(c) }}</p>
      <p v-if="l.effect" class="note">{{ l.effect }}</p>
      <button v-if="l.undoable" class="btn mt-1 px-2 py-0 text-[12px]" :disabled="busy" @click="undo(l)">Undo …</button>
    </div>
    <p v-if="(query.data.value?.length ?? 0) >= limit" class="border-t border-seam px-3 py-1.5">
      <button class="underline" @click="limit += 20">Older</button>
    </p>
  </div>
</template>
