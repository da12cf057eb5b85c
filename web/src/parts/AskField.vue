<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { placePath, stations } from '../router'

type Hit = { key: string; name: string; kind: string; path: string }

const router = useRouter()
const route = useRoute()
const query = ref('')
const hits = ref<Hit[]>([])
const field = ref<{ el: HTMLInputElement }>()

const fixed: Hit[] = [
  ...stations.map((s) => ({ key: s.path, name: s.name, kind: 'station', path: s.path as string })),
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
]

let turn = 0
watch(query, async (q) => {
  const mine = ++turn
  const text = q.trim().toLowerCase()
  const here = fixed.filter((h) => h.name.toLowerCase().includes(text))
  if (!text) {
    hits.value = here
    return
  }
  try {
    const found = await ask<Schemas['Place'][]>(api.GET('/api/find', { params: { query: { q } } }))
    if (mine !== turn) return
    hits.value = [...found.filter((p) => !['site', 'floor'].includes(p.kind)).map((p) => ({ key: `${p.kind}${p.id}`, name: p.name, kind: p.kind, path: placePath(p.kind, p.id, route.path) })), ...here]
  } catch {
    if (mine === turn) hits.value = here
  }
}, { immediate: true })

function go(hit: Hit | null) {
  if (!hit) return
  query.value = ''
  field.value?.el.blur()
  void router.push(hit.path)
}
function key(e: KeyboardEvent) {
  if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
    e.preventDefault()
    field.value?.el.focus()
    field.value?.el.select()
  }
}
onMounted(() => window.addEventListener('keydown', key))
onBeforeUnmount(() => window.removeEventListener('keydown', key))
</script>

<template>
  <Combobox :model-value="null" nullable as="div" class="relative w-[236px]" @update:model-value="go">
    <ComboboxInput
      ref="field"
      class="w-full rounded-md border border-basalt-2 bg-basalt py-1.5 pr-14 pl-3 text-paper placeholder:text-seam/80 focus:outline-amber"
      placeholder="Who, where, what?"
      aria-label="Go to"
      autocomplete="off"
      :value="query"
      @change="query = $event.target.value"
      @keydown.esc="query = ''; field?.el.blur()"
    />
    <span class="pointer-events-none absolute top-2 right-3 font-mono text-[11px] text-seam max-xl:hidden">Ctrl K</span>
    <ComboboxOptions class="absolute right-0 z-30 mt-1 max-h-[420px] w-[340px] overflow-auto rounded-lg border border-seam bg-paper py-1 text-ink shadow-lg">
      <li v-if="!hits.length" class="note px-3 py-2">Nothing has “{{ query }}” in its name. Try part of a name, or a card number.</li>
      <ComboboxOption v-for="h in hits" :key="h.key" v-slot="{ active }" :value="h" as="template">
        <li class="flex cursor-pointer items-baseline justify-between gap-4 px-3 py-1.5" :class="active ? 'bg-mode-card/60' : ''">
          <span class="truncate">{{ h.name }}</span><span class="note shrink-0">{{ h.kind }}</span>
        </li>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>
