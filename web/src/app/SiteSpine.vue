<script setup lang="ts">
import { ChevronDown, ChevronRight } from '@lucide/vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, onMounted, ref, useId, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { draftList } from '../core/drafts'
import { useSite } from '../core/site'
import ModeTile from '../ui/ModeTile.vue'
import { sure } from '../ui/sure'
import { useTree, type Row } from '../ui/tree'
import { many } from '../words'
import AccountBox from './AccountBox.vue'
import { chosenDoors } from './chosen'
import { doorOf, doorPath } from './places'

const site = useSite()
const route = useRoute()
const router = useRouter()
const filter = ref('')
const account = ref(false)
const id = useId()
const box = ref<HTMLElement>()
const { rows, at, index, go, toggle, isOpen } = useTree(filter)
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => 27,
    overscan: 10,
  })),
)
const current = computed(() => doorOf(route))
function show() {
  const i = rows.value.findIndex((r) => r.key === `door ${current.value}`)
  if (i < 0) return
  at.value = `door ${current.value}`
  void nextTick(() => virtual.value.scrollToIndex(i))
}
watch(current, show)
onMounted(show)

const chosen = computed(() => new Set(chosenDoors.value))
function choose(r: Row) {
  const on = !r.doors.every((d) => chosen.value.has(d))
  chosenDoors.value = on
    ? [...new Set([...chosenDoors.value, ...r.doors])]
    : chosenDoors.value.filter((d) => !r.doors.includes(d))
}
function open(r: Row, e?: MouseEvent | KeyboardEvent) {
  at.value = r.key
  if (e && (e.ctrlKey || e.metaKey || e.shiftKey)) return choose(r)
  if (r.kind === 'door') void router.push(doorPath(route.path, r.id))
  else toggle(r)
}
function key(e: KeyboardEvent) {
  const here = rows.value[index.value]
  if (e.key === 'Enter' && here) open(here)
  else if (e.key === ' ' && here) choose(here)
  else if (e.key === 'Escape') chosenDoors.value = []
  else if (!e.ctrlKey && !e.altKey && !e.metaKey && go(e.key))
    void nextTick(() => virtual.value.scrollToIndex(index.value))
  else return
  e.preventDefault()
}
async function signOut() {
  const n = draftList.value.length
  if (
    n &&
    !(await sure(
      `Sign out with ${many(n, 'unsaved change', 'unsaved changes')}?`,
      `Not saved: ${draftList.value.map((d) => d.name).join(', ')}. Signing out discards this.`,
      'Sign out',
      'Stay',
    ))
  )
    return
  await site.signOut()
}
</script>

<template>
  <nav
    aria-label="Doors"
    class="flex min-h-0 flex-col border-r border-seam bg-lime max-[900px]:h-[70vh]"
    data-keeps-focus
  >
    <div class="p-3">
      <input
        v-model="filter"
        class="field"
        type="search"
        placeholder="Find a door or floor"
        aria-label="Find a door or floor"
        @keydown.esc="filter = ''"
        @keydown.down.prevent="box?.focus()"
      />
    </div>
    <div
      v-if="chosenDoors.length"
      class="mx-3 mb-2 flex flex-wrap items-center gap-2 rounded-md border border-seam bg-paper px-2.5 py-1.5 text-[13px]"
      role="status"
    >
      <b>{{ many(chosenDoors.length, 'door', 'doors') }} chosen</b>
      <RouterLink class="underline" :to="`/hours/changes/new?doors=${chosenDoors.slice(0, 500).join(',')}`"
        >Dated change</RouterLink
      >
      <RouterLink class="underline" :to="`/people/levels/new?doors=${chosenDoors.slice(0, 500).join(',')}`"
        >Access level</RouterLink
      >
      <RouterLink class="underline" :to="`/rules/hand?doors=${chosenDoors.slice(0, 500).join(',')}`"
        >By hand</RouterLink
      >
      <button class="underline" @click="chosenDoors = []">None</button>
    </div>
    <p v-if="!rows.length && filter" class="note px-4">No door or floor has “{{ filter }}” in its name.</p>
    <p v-else-if="!rows.length" class="note px-4">
      No doors yet. Take a controller into service, then name its doors here.
    </p>
    <!-- eslint-disable vuejs-accessibility/interactive-supports-focus, vuejs-accessibility/click-events-have-key-events -- the tree has the focus and the keys, where there is anything in it -->
    <div
      ref="box"
      role="tree"
      :tabindex="rows.length ? 0 : -1"
      aria-label="Sites, floors and doors"
      aria-multiselectable="true"
      :aria-activedescendant="rows[index] ? `${id}-${rows[index]!.key.replaceAll(' ', '-')}` : undefined"
      class="group min-h-0 flex-1 overflow-auto px-2"
      @keydown="key"
    >
      <div role="none" class="relative" :style="{ height: `${virtual.getTotalSize() + 24}px` }">
        <div
          v-for="v in virtual.getVirtualItems()"
          :id="`${id}-${rows[v.index]!.key.replaceAll(' ', '-')}`"
          :key="rows[v.index]!.key"
          role="treeitem"
          :aria-level="rows[v.index]!.depth"
          :aria-setsize="rows[v.index]!.size"
          :aria-posinset="rows[v.index]!.place"
          :aria-expanded="isOpen(rows[v.index]!)"
          :aria-selected="rows[v.index]!.doors.length > 0 && rows[v.index]!.doors.every((d) => chosen.has(d))"
          :aria-current="rows[v.index]!.kind === 'door' && rows[v.index]!.id === current ? 'page' : undefined"
          class="absolute inset-x-0 top-0 flex h-[27px] cursor-pointer items-center gap-2 rounded-md pr-2"
          :class="[
            rows[v.index]!.kind === 'site'
              ? 'font-bold'
              : rows[v.index]!.kind === 'floor'
                ? 'text-[13px] text-ash'
                : '',
            rows[v.index]!.kind === 'door' && rows[v.index]!.id === current
              ? 'bg-basalt-2 text-paper'
              : 'hover:bg-plaster',
            rows[v.index]!.kind === 'door' && chosen.has(rows[v.index]!.id) ? 'ring-2 ring-violet ring-inset' : '',
            index === v.index ? 'group-focus:outline-2 group-focus:-outline-offset-2 group-focus:outline-ink' : '',
          ]"
          :style="{
            transform: `translateY(${v.start}px)`,
            paddingLeft: rows[v.index]!.kind === 'door' ? '26px' : rows[v.index]!.kind === 'floor' ? '12px' : '4px',
          }"
          @click="open(rows[v.index]!, $event)"
        >
          <template v-if="rows[v.index]!.door">
            <ModeTile
              :mode="rows[v.index]!.door!.mode"
              :dim="rows[v.index]!.door!.offline"
              :waits="rows[v.index]!.door!.waits"
            />
            <span class="min-w-0 flex-1 truncate">{{ rows[v.index]!.name }}</span>
            <span
              v-if="rows[v.index]!.door!.alarm"
              class="pill border border-wine bg-paper text-wine"
              :title="rows[v.index]!.door!.alarm"
              >{{ rows[v.index]!.door!.alarm === 'forced' ? 'forced' : 'open' }}</span
            >
            <span
              v-else-if="rows[v.index]!.door!.hand"
              class="pill border border-violet bg-paper text-violet"
              :title="rows[v.index]!.door!.hand"
              >{{
                rows[v.index]!.door!.hand!.startsWith('held') ? 'held' : rows[v.index]!.door!.hand!.split(' ')[0]
              }}</span
            >
            <span
              v-else-if="rows[v.index]!.door!.open"
              class="text-[11px]"
              :class="rows[v.index]!.id === current ? 'text-seam' : 'text-ash'"
              >open</span
            >
          </template>
          <template v-else>
            <span class="min-w-0 flex-1 truncate">{{ rows[v.index]!.name }}</span>
            <ChevronRight v-if="isOpen(rows[v.index]!) === false" class="size-3.5" aria-hidden="true" /><ChevronDown
              v-else-if="rows[v.index]!.doors.length === 0 || rows[v.index]!.kind === 'site'"
              class="size-3.5 opacity-50"
              aria-hidden="true"
            />
          </template>
        </div>
      </div>
    </div>
    <footer class="flex items-center justify-between border-t border-seam px-4 py-1 text-[12px] text-ash">
      <button class="min-h-[24px] underline" title="Password and sessions" @click="account = true">
        {{ site.session!.name }}
      </button>
      <span class="flex gap-3">
        <RouterLink to="/history" class="flex min-h-[24px] items-center underline">History</RouterLink>
        <button class="min-h-[24px] underline" @click="signOut">Sign out</button>
      </span>
    </footer>
    <AccountBox v-if="account" @close="account = false" />
  </nav>
</template>
