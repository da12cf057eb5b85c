<script setup lang="ts">
import { ChevronDown, ChevronRight } from '@lucide/vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, useId } from 'vue'
import type { Schemas } from '../api/client'
import { many } from '../words'
import { useTree, type Row } from './tree'

/**
 * Chooses doors: one by one, a floor or a site at a time. Where whole places can be chosen (places), a floor that is
 * chosen means all its doors, those to come as well, and its doors follow it.
 */
const props = defineProps<{ label: string; sets?: Schemas['DoorSet'][]; places?: boolean; readonly?: boolean }>()
const doors = defineModel<number[]>({ required: true })
const floors = defineModel<number[]>('floors', { default: () => [] })
const sites = defineModel<number[]>('sites', { default: () => [] })
const setIds = defineModel<number[]>('setIds', { default: () => [] })
const emit = defineEmits<{ changed: [doors: number[], on: boolean] }>()

const find = ref('')
const { rows, at, index, go, toggle, isOpen } = useTree(find, () => props.sets ?? [])
const box = ref<HTMLElement>()
const id = useId()
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => 28,
    overscan: 8,
  })),
)

const chosen = computed(() => new Set(doors.value))
const wide = computed(
  () =>
    new Set([
      ...floors.value.map((i) => `floor ${i}`),
      ...sites.value.map((i) => `site ${i}`),
      ...setIds.value.map((i) => `set ${i}`),
    ]),
)
const inSets = computed(
  () => new Set((props.sets ?? []).filter((s) => setIds.value.includes(s.id)).flatMap((s) => s.doorIds)),
)
/** What is chosen with something above it. */
const follows = (r: Row): boolean =>
  (r.kind === 'door' && inSets.value.has(r.id)) ||
  (!!r.parent &&
    (wide.value.has(r.parent) ||
      (r.kind === 'door' && wide.value.has(rows.value.find((x) => x.key === r.parent)?.parent ?? ''))))

function state(r: Row): 'true' | 'false' | 'mixed' {
  if (wide.value.has(r.key) || follows(r)) return 'true'
  if (r.kind === 'door') return chosen.value.has(r.id) ? 'true' : 'false'
  if (r.kind === 'door set') return 'false'
  const n = r.doors.filter((d) => chosen.value.has(d) || inSets.value.has(d)).length
  return n === 0 ? 'false' : n === r.doors.length && !props.places ? 'true' : 'mixed'
}
function flip(r: Row) {
  at.value = r.key
  if (props.readonly || follows(r)) return
  const on = state(r) !== 'true'
  const swap = (list: number[]) => (on ? [...list, r.id] : list.filter((x) => x !== r.id))
  if (r.kind === 'door set') setIds.value = swap(setIds.value)
  else if (props.places && r.kind === 'floor') floors.value = swap(floors.value)
  else if (props.places && r.kind === 'site') sites.value = swap(sites.value)
  else {
    const touched = r.doors.filter((d) => chosen.value.has(d) !== on)
    const those = new Set(touched)
    doors.value = on ? [...doors.value, ...touched] : doors.value.filter((d) => !those.has(d))
    emit('changed', touched, on)
  }
}
function key(e: KeyboardEvent) {
  const here = rows.value[index.value]
  if (e.key === ' ' || e.key === 'Enter') {
    e.preventDefault()
    if (here) flip(here)
    return
  }
  if (go(e.key)) {
    e.preventDefault()
    void nextTick(() => virtual.value.scrollToIndex(index.value))
  }
}
</script>

<template>
  <div class="flex min-h-0 flex-col">
    <div class="p-2">
      <input
        v-model="find"
        type="search"
        class="field py-1"
        placeholder="Find a door or floor"
        :aria-label="`Find in ${label}`"
        @keydown.esc="find = ''"
      />
    </div>
    <p v-if="!rows.length" class="note px-3 pb-3">
      {{ find ? `No door or floor has “${find}” in its name.` : 'No doors yet; Build is where they are named.' }}
    </p>
    <div
      ref="box"
      role="tree"
      tabindex="0"
      aria-multiselectable="true"
      :aria-label="label"
      :aria-activedescendant="rows[index] ? `${id}-${rows[index]!.key.replaceAll(' ', '-')}` : undefined"
      class="group min-h-0 flex-1 overflow-auto pb-2 text-[13px]"
      @keydown="key"
    >
      <div role="none" class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
        <!-- eslint-disable vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/interactive-supports-focus, vuejs-accessibility/role-has-required-aria-props -- the tree has the focus and the keys; its items are checked, not selected -->
        <div
          v-for="v in virtual.getVirtualItems()"
          :id="`${id}-${rows[v.index]!.key.replaceAll(' ', '-')}`"
          :key="rows[v.index]!.key"
          role="treeitem"
          :aria-level="rows[v.index]!.depth"
          :aria-setsize="rows[v.index]!.size"
          :aria-posinset="rows[v.index]!.place"
          :aria-expanded="isOpen(rows[v.index]!)"
          :aria-checked="state(rows[v.index]!)"
          :aria-disabled="follows(rows[v.index]!) || undefined"
          class="absolute inset-x-0 top-0 flex h-7 cursor-pointer items-center gap-1.5 pr-2"
          :class="[
            rows[v.index]!.kind === 'site' ? 'font-bold' : rows[v.index]!.kind === 'floor' ? 'text-ash' : '',
            index === v.index ? 'group-focus:outline-2 group-focus:-outline-offset-2 group-focus:outline-ink' : '',
            follows(rows[v.index]!) ? 'cursor-default text-ash' : 'hover:bg-lime',
          ]"
          :style="{ transform: `translateY(${v.start}px)`, paddingLeft: `${(rows[v.index]!.depth - 1) * 16 + 6}px` }"
          @click="flip(rows[v.index]!)"
        >
          <span class="grid size-[24px] place-items-center" aria-hidden="true" @click.stop="toggle(rows[v.index]!)">
            <ChevronDown v-if="isOpen(rows[v.index]!)" class="size-3.5" /><ChevronRight
              v-else-if="isOpen(rows[v.index]!) === false"
              class="size-3.5"
            />
          </span>
          <span class="tick" :data-state="state(rows[v.index]!)" aria-hidden="true" />
          <span class="truncate">{{ rows[v.index]!.name }}</span>
          <span
            v-if="rows[v.index]!.kind !== 'door'"
            class="note ml-auto shrink-0 text-[12px] font-normal whitespace-nowrap"
            >{{
              rows[v.index]!.kind === 'door set'
                ? `door set, ${rows[v.index]!.doors.length}`
                : many(rows[v.index]!.doors.length, 'door', 'doors')
            }}</span
          >
          <slot name="row" :row="rows[v.index]!" />
        </div>
      </div>
    </div>
  </div>
</template>
