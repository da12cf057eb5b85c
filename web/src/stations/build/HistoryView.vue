<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'
import { dateOf, timeOf } from '../../words'

const site = useSite()
const lines = ref<Schemas['HistoryLine'][]>([])
const problem = ref('')
const more = ref(true)
const zone = site.overview!.sites[0]?.zone ?? 'UTC'

async function load(from = 0) {
  const page = await ask(api.GET('/api/history', { params: { query: { limit: 50, offset: from } } }))
  lines.value = from ? [...lines.value, ...page] : page
  more.value = page.length === 50
}
onMounted(load)

/** What differs between two documents: field, before, after. */
function differences(l: Schemas['HistoryLine']): { field: string; was: string; is: string }[] {
  if (!l.was || !l.now) return []
  const a = JSON.parse(l.was) as Record<string, unknown>
  const b = JSON.parse(l.now) as Record<string, unknown>
  const show = (v: unknown) => { const s = typeof v === 'string' ? v : JSON.stringify(v) ?? '—'; return s.length > 90 ? s.slice(0, 88) + '…' : s }
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((k) => JSON.stringify(a[k]) !== JSON.stringify(b[k])).map((k) => ({ field: k, was: show(a[k]), is: show(b[k]) }))
}
async function undo(id: number) {
  try {
    await ask(api.POST('/api/history/{id}/undo', { params: { path: { id } } }))
    problem.value = ''
    await load()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="History" under="Who changed what, from what to what; the newest first">
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <section class="card">
      <div v-for="l in lines" :key="l.id" class="row items-start">
        <span class="w-36 shrink-0 font-mono text-[12px] text-ash">{{ dateOf(l.at, zone) }} {{ timeOf(l.at, zone) }}</span>
        <div class="min-w-0 flex-1">
          <p><b>{{ l.who }}</b> {{ l.action }} <span v-if="l.kind !== 'event'">{{ l.kind }}</span> <b>{{ l.name }}</b></p>
          <p v-for="d in differences(l)" :key="d.field" class="text-[12.5px] break-words text-ash">{{ d.field }}: {{ d.was }} → <span class="text-ink">{{ d.is }}</span></p>
        </div>
        <button v-if="l.undoable" class="btn px-2 py-0.5" @click="undo(l.id)">Undo</button>
      </div>
    </section>
    <button v-if="more" class="btn mt-3" @click="load(lines.length)">Older</button>
    <template #aside><div class="card p-3 text-[13px] leading-relaxed">A change can be undone as long as nothing has changed the same thing since. Undoing is written here too, and must be sent like any other change. A removed person comes back without the PIN.</div></template>
  </SheetFrame>
</template>
