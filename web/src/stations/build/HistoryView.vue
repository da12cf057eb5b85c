<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { placePath } from '../../app/places'
import { api, ask, type Schemas } from '../../api/client'
import { useAddress } from '../../core/address'
import { useKeys } from '../../core/keys'
import { kinds, keys } from '../../core/query'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { sure } from '../../ui/sure'
import { dateOf, timeOf } from '../../words'

type Line = Schemas['HistoryLine']
const site = useSite()
const route = useRoute()
const problem = ref('')
const busy = ref(false)
const q = useAddress('q')
const kind = useAddress('kind')
const soon = useDebounce(q, 150)
const field = ref<HTMLInputElement>()
const most = 50

const pages = useInfiniteQuery({
  queryKey: computed(() => keys.computed('history', soon.value, kind.value)),
  queryFn: ({ pageParam, signal }) =>
    ask(
      api.GET('/api/history', {
        params: { query: { q: soon.value, kind: kind.value, before: pageParam, limit: most } },
        signal,
      }),
    ),
  initialPageParam: 0,
  getNextPageParam: (last: Line[]) => (last.length === most ? last.at(-1)!.id : undefined),
  shallow: true,
})
const lines = computed(() => (pages.data.value?.pages ?? []).flat())

const chosenId = ref(0)
const chosen = computed(() => lines.value.find((l) => l.id === chosenId.value))
const columns: Column<Line>[] = [
  { id: 'at', title: 'When', width: '128px' },
  { id: 'who', title: 'Who', width: '84px', text: (l) => l.who },
  { id: 'what', title: 'What', width: 'minmax(0,1.5fr)' },
  { id: 'changes', title: 'From what to what', from: 560 },
]
const summary = (l: Line) =>
  (l.changes ?? []).map((d) => `${d.field}: ${d.was || 'nothing'} → ${d.now || 'nothing'}`).join('; ')

async function undo(l: Line) {
  if (busy.value) return
  if (
    l.removes &&
    !(await sure(
      `Undo: remove ${l.name}?`,
      `Before this, there was no such ${l.kind}; undoing it removes it. History can bring it back.`,
      'Remove it',
    ))
  )
    return
  busy.value = true
  try {
    await ask(api.POST('/api/history/{id}/undo', { params: { path: { id: l.id } } }))
    problem.value = ''
    await pages.refetch()
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
const open = (l: Line) =>
  l.kind in kinds && l.action !== 'removed' ? placePath(l.kind, l.objectId, route.path) : undefined
useKeys('This list', [{ keys: '/', what: 'Find in the history', run: () => field.value?.focus() }])
</script>

<template>
  <SheetFrame fill title="History" under="Who changed what, from what to what; the newest first">
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <div class="mb-3 flex flex-wrap gap-2">
      <input
        ref="field"
        v-model="q"
        type="search"
        class="field w-64!"
        placeholder="Who, or what"
        aria-label="Find in the history"
        @keydown.esc="q = ''"
      />
      <select v-model="kind" class="field w-44!" aria-label="Kind">
        <option value="">of every kind</option>
        <option v-for="(_, k) in kinds" :key="k" :value="k">{{ k }}</option>
        <option value="settings">settings</option>
      </select>
    </div>
    <DataTable
      :id="(l: Line) => l.id"
      label="Changes"
      :columns="columns"
      :rows="lines"
      :name="(l: Line) => `${l.kind} ${l.name} ${l.action} by ${l.who}`"
      :loading="pages.isPending.value"
      :error="pages.error.value"
      :again="() => pages.refetch()"
      :more="() => !pages.isFetchingNextPage.value && pages.fetchNextPage()"
      :has-more="pages.hasNextPage.value"
      :filtered="!!(q || kind)"
      :current="chosen?.id"
      none="Nobody has changed anything yet."
      @open="(l: Line) => (chosenId = l.id)"
    >
      <template #at="{ row: l }"
        ><span class="font-mono text-[12px] text-ash"
          >{{ dateOf(l.at, site.zone).slice(4) }} {{ timeOf(l.at, site.zone) }}</span
        ></template
      >
      <template #what="{ row: l }"
        >{{ l.kind }} <b>{{ l.name }}</b> {{ l.action }}</template
      >
      <template #changes="{ row: l }"
        ><span class="text-[12.5px] text-ash" :title="summary(l)">{{ summary(l) }}</span></template
      >
    </DataTable>
    <template #aside>
      <template v-if="chosen">
        <div class="card p-3 text-[13px]">
          <p class="text-[15px]">
            {{ chosen.kind }}
            <RouterLink v-if="open(chosen)" :to="open(chosen)!" class="font-bold underline underline-offset-3">{{
              chosen.name
            }}</RouterLink><b v-else>{{ chosen.name }}</b>
            {{ chosen.action }}
          </p>
          <p class="note">by {{ chosen.who }}, {{ dateOf(chosen.at, site.zone) }} {{ timeOf(chosen.at, site.zone) }}</p>
        </div>
        <template v-if="chosen.changes?.length"
          ><h2>What changed</h2>
          <dl class="card max-h-[50vh] space-y-1.5 overflow-auto p-3 text-[13px]">
            <div v-for="d in chosen.changes" :key="d.field">
              <dt class="text-ash">{{ d.field }}</dt>
              <dd class="break-words">
                {{ d.was || 'nothing' }} → <b>{{ d.now || 'nothing' }}</b>
              </dd>
            </div>
          </dl></template
        >
        <button v-if="chosen.undoable" class="btn self-start" :disabled="busy" @click="undo(chosen)">Undo this</button>
        <p v-else class="note">It cannot be undone: something has changed the same since, or it undoes nothing.</p>
      </template>
      <p v-else class="card p-3 text-[13px] text-ash">Choose a change to see it in full, and to undo it.</p>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Undo turns a change back as long as nothing has changed the same thing since.</p>
        <p>What was removed comes back with its number, its PIN and everything that stood in it.</p>
      </div>
    </template>
  </SheetFrame>
</template>
