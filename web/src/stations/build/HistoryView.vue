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
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
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
  <SheetFrame title="History" under="Who changed what, from what to what; the newest first">
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
    <StateBox
      v-if="!pages.data.value"
      :loading="pages.isPending.value"
      :error="pages.error.value"
      :again="() => pages.refetch()"
      :rows="8"
    />
    <section v-else class="card" aria-label="Changes">
      <p v-if="!lines.length" class="p-4 text-ash">
        {{ q || kind ? 'Nothing found. Take a condition away to see more.' : 'Nobody has changed anything yet.' }}
      </p>
      <div v-for="l in lines" :key="l.id" class="row items-start">
        <span class="w-36 shrink-0 font-mono text-[12px] text-ash"
          >{{ dateOf(l.at, site.zone) }} {{ timeOf(l.at, site.zone) }}</span
        >
        <div class="min-w-0 flex-1">
          <p>
            <b>{{ l.who }}</b> {{ l.action }} {{ l.kind }}
            <RouterLink
              v-if="open(l)"
              :to="open(l)!"
              class="font-bold underline decoration-dotted underline-offset-3"
              >{{ l.name }}</RouterLink><b v-else>{{ l.name }}</b>
          </p>
          <p v-for="d in l.changes" :key="d.field" class="text-[12.5px] break-words text-ash">
            {{ d.field }}: {{ d.was || 'nothing' }} → <span class="text-ink">{{ d.now || 'nothing' }}</span>
          </p>
        </div>
        <button v-if="l.undoable" class="btn shrink-0 px-2 py-0.5" :disabled="busy" @click="undo(l)">Undo</button>
      </div>
    </section>
    <button
      v-if="pages.hasNextPage.value"
      class="btn mt-3 self-start"
      :disabled="pages.isFetchingNextPage.value"
      @click="pages.fetchNextPage()"
    >
      Older
    </button>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Undo turns a change back as long as nothing has changed the same thing since.</p>
        <p>What was removed comes back with its number, its PIN and everything that stood in it.</p>
      </div>
    </template>
  </SheetFrame>
</template>
