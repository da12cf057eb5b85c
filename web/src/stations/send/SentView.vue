<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'
import DataTable, { type Column } from '../../ui/DataTable.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { dateOf, many, timeOf } from '../../words'
import SendTabs from './SendTabs.vue'

/** What each send carried, by whom, and what it did as that was shown then. */
type Line = Schemas['SentLine']
const site = useSite()
const most = 50
const pages = useInfiniteQuery({
  queryKey: keys.computed('sends'),
  queryFn: ({ pageParam, signal }) =>
    ask(api.GET('/api/sends', { params: { query: { before: pageParam, limit: most } }, signal })),
  initialPageParam: 0,
  getNextPageParam: (last: Line[]) => (last.length === most ? last.at(-1)!.id : undefined),
  shallow: true,
})
const lines = computed(() => (pages.data.value?.pages ?? []).flat())
const chosenId = ref(0)
const chosen = computed(() => lines.value.find((l) => l.id === chosenId.value))
const columns: Column<Line>[] = [
  { id: 'at', title: 'When', width: '132px' },
  { id: 'controller', title: 'Controller', width: '130px', text: (l) => l.controller },
  { id: 'who', title: 'Who', width: '96px', text: (l) => l.who },
  { id: 'what', title: 'What it carried' },
  { id: 'outcome', title: '', width: '84px' },
]
const size = (n: number) =>
  n < 10_000 ? `${n.toLocaleString('en')} B` : `${Math.round(n / 1000).toLocaleString('en')} kB`
</script>

<template>
  <SheetFrame
    fill
    title="What was sent"
    under="Each send with what it carried and what it did, as it was shown then; the newest first"
  >
    <SendTabs />
    <DataTable
      :id="(l: Line) => l.id"
      label="Sends"
      :columns="columns"
      :rows="lines"
      :name="(l: Line) => `${l.controller}, ${l.outcome}`"
      :loading="pages.isPending.value"
      :error="pages.error.value"
      :again="() => pages.refetch()"
      :more="() => !pages.isFetchingNextPage.value && pages.fetchNextPage()"
      :has-more="pages.hasNextPage.value"
      :current="chosen?.id"
      none="Nothing has been sent yet."
      @open="(l: Line) => (chosenId = l.id)"
    >
      <template #at="{ row: l }"
        ><span class="font-mono text-[12px] text-ash"
          >{{ dateOf(l.at, site.zone).slice(4) }} {{ timeOf(l.at, site.zone) }}</span
        ></template
      >
      <template #what="{ row: l }"
        ><span class="text-[13px]">{{
          l.impact || l.changes.map((c) => c.words).join('; ') || 'the same anew'
        }}</span></template
      >
      <template #outcome="{ row: l }"
        ><span class="text-[12.5px] font-semibold" :class="l.outcome === 'verified' ? 'text-kelp' : 'text-wine'">{{
          l.outcome
        }}</span></template
      >
    </DataTable>
    <template #aside>
      <template v-if="chosen">
        <div class="card p-3 text-[13px]">
          <p class="text-[15px]">
            <b>{{ chosen.controller }}</b> · {{ chosen.outcome }}
          </p>
          <p class="note">
            {{ dateOf(chosen.at, site.zone) }} {{ timeOf(chosen.at, site.zone) }}, by {{ chosen.who }},
            {{ chosen.why }}; {{ chosen.whole ? 'everything' : 'the difference' }}, {{ size(chosen.bytes) }}
          </p>
          <p v-if="chosen.words" class="mt-1 font-semibold text-wine">{{ chosen.words }}</p>
          <p class="mt-1 font-mono text-[11.5px] break-all text-ash" title="SHA-256 of what it was to hold">
            {{ chosen.hash.slice(0, 16) }}…
          </p>
        </div>
        <template v-if="chosen.impact"
          ><h2>What it did</h2>
          <p class="card p-3 text-[13px] leading-relaxed">{{ chosen.impact }}</p></template
        >
        <h2>{{ many(chosen.changes.length, 'change', 'changes') }}</h2>
        <ul class="card max-h-[50vh] space-y-1 overflow-auto p-3 text-[13px]">
          <li v-for="(c, i) in chosen.changes" :key="i">
            <span class="note">{{ c.kind }}</span> {{ c.words }}
          </li>
          <li v-if="!chosen.changes.length" class="text-ash">None: it was sent anew.</li>
        </ul>
      </template>
      <p v-else class="card p-3 text-[13px] text-ash">Choose a send to see what it carried.</p>
    </template>
  </SheetFrame>
</template>
