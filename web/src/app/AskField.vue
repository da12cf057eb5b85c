<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { useKeys } from '../core/keys'
import { keys } from '../core/query'
import { placePath, stations } from './places'

type Hit = { key: string; name: string; kind: string; path: string; hint?: string }

/** The answer in a word, where one word says it. */
const answered = (a: Schemas['Answered']) =>
  a.may ? (a.may.granted ? 'yes' : 'no') : a.who ? `${a.who.count} people` : a.where ? `${a.where.now} doors` : 'ask'

const router = useRouter()
const route = useRoute()
const query = ref('')
const field = ref<{ el: HTMLInputElement }>()

const fixed: Hit[] = [
  ...stations.map((s) => ({ key: s.path, name: s.name, kind: 'station', path: s.path as string })),
  { key: '/people/levels', name: 'Access levels', kind: 'page', path: '/people/levels' },
  { key: '/history', name: 'History: who changed what', kind: 'page', path: '/history' },
  { key: '/people/new', name: 'New person', kind: 'do', path: '/people/new' },
  { key: '/hours/schedules/new', name: 'New schedule', kind: 'do', path: '/hours/schedules/new' },
  { key: '/hours/plans/new', name: 'New passage plan', kind: 'do', path: '/hours/plans/new' },
  { key: '/hours/holidays', name: 'Holidays', kind: 'page', path: '/hours/holidays' },
  { key: '/hours/holidays/load', name: 'Load public holidays', kind: 'do', path: '/hours/holidays/load' },
  { key: '/hours/changes', name: 'Dated changes', kind: 'page', path: '/hours/changes' },
  { key: '/hours/changes/new', name: 'New dated change', kind: 'do', path: '/hours/changes/new' },
  { key: '/hours/findings', name: 'Findings', kind: 'page', path: '/hours/findings' },
  { key: '/people/levels/new', name: 'New access level', kind: 'do', path: '/people/levels/new' },
  { key: '/people/departments', name: 'Departments', kind: 'page', path: '/people/departments' },
  { key: '/people/cards', name: 'Free cards', kind: 'page', path: '/people/cards' },
  { key: '/people/coming', name: 'Begins and ends', kind: 'page', path: '/people/coming' },
  { key: '/people/import', name: 'Import and export', kind: 'page', path: '/people/import' },
  { key: '/prove/matrix', name: 'Who can go where', kind: 'page', path: '/prove/matrix' },
  { key: '/send/sent', name: 'What was sent', kind: 'page', path: '/send/sent' },
]

const soon = useDebounce(query, 120)
const text = computed(() => query.value.trim())
const found = useQuery({
  queryKey: computed(() => keys.computed('find', soon.value.trim())),
  queryFn: async ({ signal }) => {
    const q = soon.value.trim()
    const [places, asked] = await Promise.all([
      ask(api.GET('/api/find', { params: { query: { q } }, signal })),
      // Two words and more may be a question.
      /\s/.test(q) ? ask(api.GET('/api/question', { params: { query: { q } }, signal })) : undefined,
    ])
    return { q, places, asked }
  },
  enabled: computed(() => !!soon.value.trim()),
})
/** What was found for what stands in the field now, and nothing that an earlier text found. */
const hits = computed<Hit[]>(() => {
  const here = fixed.filter((h) => h.name.toLowerCase().includes(text.value.toLowerCase()))
  if (!text.value) return here
  if (found.data.value?.q !== text.value) return here
  const places = found.data.value.places.filter((p) => !['site', 'floor'].includes(p.kind))
  const asked = found.data.value.asked
  const question: Hit[] =
    asked?.kind && (asked.person || asked.door)
      ? [
          {
            key: 'question',
            name: asked.words,
            kind: answered(asked),
            path: `/prove?q=${encodeURIComponent(text.value)}`,
          },
        ]
      : []
  return [
    ...(places.length ? [] : question),
    ...places.map((p) => ({
      key: `${p.kind}${p.id}`,
      name: p.name,
      kind: p.kind,
      path: placePath(p.kind, p.id, route.path),
      hint: p.hint,
    })),
    ...(places.length ? question : []),
    ...here,
  ]
})
const looking = computed(
  () =>
    !!text.value &&
    found.data.value?.q !== text.value &&
    !(soon.value.trim() === text.value && found.error.value && !found.isFetching.value),
)
/** Enter before the answer has come waits for it, and goes to what it finds. */
let waiting: (() => void) | undefined
function enter(e: KeyboardEvent) {
  if (!looking.value) return
  e.preventDefault()
  e.stopPropagation()
  waiting?.()
  const asked = text.value
  waiting = watch([looking, text], () => {
    if (text.value !== asked) return waiting?.()
    if (looking.value) return
    waiting?.()
    if (hits.value[0]) go(hits.value[0])
  })
}

/** What is said in the list and cannot be chosen. It must not be what is selected, which is nothing. */
const notice = {}
function go(hit: Hit | null) {
  if (!hit) return
  query.value = ''
  field.value?.el.blur()
  void router.push(hit.path)
}
useKeys('Everywhere', [
  {
    keys: 'Ctrl+K',
    what: 'Ask, or go to a door, person, schedule, station',
    typing: true,
    run: () => {
      field.value?.el.focus()
      field.value?.el.select()
    },
  },
])
</script>

<template>
  <Combobox :model-value="null" nullable as="div" class="@container relative w-[236px]" @update:model-value="go">
    <ComboboxInput
      ref="field"
      class="w-full rounded-md border border-basalt-2 bg-basalt py-1.5 pr-14 pl-3 @max-[200px]:pr-2 @max-[200px]:pl-2.5 text-paper text-ellipsis placeholder:text-seam/80 focus:outline-amber"
      placeholder="Who, where, what?"
      aria-label="Go to"
      autocomplete="off"
      :value="query"
      @change="query = $event.target.value"
      @keydown.enter.capture="enter"
      @keydown.esc="() => ((query = ''), field?.el.blur())"
    />
    <span class="pointer-events-none absolute top-2 right-3 font-mono text-[11px] text-seam @max-[200px]:hidden"
      >Ctrl K</span
    >
    <ComboboxOptions
      class="absolute right-0 z-30 mt-1 max-h-[420px] w-[340px] overflow-auto rounded-lg border border-seam bg-paper py-1 text-ink shadow-lg"
    >
      <ComboboxOption v-if="!hits.length" :value="notice" disabled as="li">
        <div class="note px-3 py-2">
          {{
            looking
              ? 'Looking …'
              : found.error.value
                ? found.error.value.message
                : `Nothing has “${query}” in its name. Try part of a name, or a card number.`
          }}
        </div>
      </ComboboxOption>
      <ComboboxOption v-for="h in hits" :key="h.key" v-slot="{ active }" :value="h" as="li">
        <div
          class="flex cursor-pointer items-baseline justify-between gap-4 px-3 py-1.5"
          :class="active ? 'bg-mode-card/60' : ''"
        >
          <span class="min-w-0" :class="h.key === 'question' ? 'font-semibold' : 'truncate'"
            >{{ h.name }} <span v-if="h.hint" class="note text-[12px]">{{ h.hint }}</span></span
          ><span class="note shrink-0">{{ h.kind }}</span>
        </div>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>
