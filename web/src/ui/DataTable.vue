<script setup lang="ts" generic="R">
import { ArrowDown, ArrowDownUp, ArrowUp } from '@lucide/vue'
import { getCoreRowModel, useVueTable, type ColumnDef } from '@tanstack/vue-table'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useDebounceFn, useElementSize } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useId, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import StateBox from './StateBox.vue'
import { useGridKeys } from './gridKeys'
import { remembered, remember } from './scroll'

/** A column: its cells are the slot of its id, else what text gives. */
export type Column<R> = {
  id: string
  title: string
  width?: string
  sort?: string
  text?: (r: R) => string
  hidden?: boolean
  /** It is left out where the table is narrower, in pixels. */
  from?: number
}

const props = defineProps<{
  label: string
  columns: Column<R>[]
  rows: R[]
  id: (r: R) => number
  name: (r: R) => string
  to?: (r: R) => string
  total?: number
  loading?: boolean
  error?: unknown
  again?: () => unknown
  more?: () => unknown
  hasMore?: boolean
  /** What stands where there is nothing, and where nothing was found. */
  none: string
  filtered?: boolean
  chooses?: boolean
  current?: number
  tint?: (r: R) => string
}>()
const sort = defineModel<string>('sort', { default: '' })
const selected = defineModel<number[]>('selected', { default: () => [] })
const emit = defineEmits<{ open: [r: R] }>()

const router = useRouter()
const route = useRoute()
const base = useId()
const box = ref<HTMLElement>()
const { width } = useElementSize(box)

const table = useVueTable({
  get data() {
    return props.rows
  },
  get columns(): ColumnDef<R>[] {
    return props.columns.map((c) => ({
      id: c.id,
      header: c.title,
      enableSorting: !!c.sort,
      accessorFn: (r: R) => c.text?.(r),
    }))
  },
  state: {
    get columnVisibility() {
      return Object.fromEntries(
        props.columns.map((c) => [c.id, !c.hidden && !(width.value && c.from && width.value < c.from)]),
      )
    },
  },
  getRowId: (r) => String(props.id(r)),
  getCoreRowModel: getCoreRowModel(),
  manualSorting: true,
})
const shown = computed(() => {
  const visible = new Set(table.getVisibleLeafColumns().map((c) => c.id))
  return props.columns.filter((c) => visible.has(c.id))
})
const grid = computed(
  () => (props.chooses ? '34px ' : '') + shown.value.map((c) => c.width ?? 'minmax(0,1fr)').join(' '),
)

const virtual = useVirtualizer(
  computed(() => ({
    count: props.rows.length,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => 38,
    overscan: 8,
    initialOffset: remembered(route.fullPath),
  })),
)
const items = computed(() => virtual.value.getVirtualItems())
watch(
  () => items.value.at(-1)?.index,
  (last) => {
    if (last !== undefined && props.hasMore && last > props.rows.length - 15) props.more?.()
  },
)
const keepScroll = useDebounceFn(() => remember(route.fullPath, box.value?.scrollTop ?? 0), 100)
onMounted(() => {
  if (box.value) box.value.scrollTop = remembered(route.fullPath)
})
const open = (r: R) => {
  emit('open', r)
  if (props.to) void router.push(props.to(r))
}
const { at, column, chosen, choose, sortBy, sorted, key } = useGridKeys<R>({
  rows: () => props.rows,
  id: (r) => props.id(r),
  columns: shown,
  chooses: () => !!props.chooses,
  selected,
  sort,
  open,
  show: (i) => void nextTick(() => virtual.value.scrollToIndex(i)),
})
function pressed(e: KeyboardEvent) {
  if (e.target === box.value && key(e)) e.preventDefault()
}
const counted = computed(() => {
  const read = props.rows.length.toLocaleString('en')
  if (props.total === undefined)
    return props.hasMore ? `${read} read, more below` : `${read} ${props.filtered ? 'found' : 'in all'}`
  const all = `${props.total.toLocaleString('en')} ${props.filtered ? 'found' : 'in all'}`
  return props.hasMore ? `${all}, ${read} read` : all
})
defineExpose({ focus: () => box.value?.focus() })
</script>

<template>
  <StateBox
    v-if="(loading && !rows.length) || (error && !rows.length)"
    :loading="loading"
    :error="error"
    :again="again"
    :rows="6"
    :what="label"
  />
  <div v-else class="card flex min-h-0 flex-initial flex-col overflow-hidden">
    <div
      v-if="selected.length"
      class="flex flex-wrap items-center gap-2 border-b border-seam bg-lime px-3 py-1.5"
      role="status"
    >
      <b>{{ selected.length }} chosen</b><slot name="bulk" /><button
        class="btn btn-quiet ml-auto px-1 py-0"
        @click="selected = []"
      >
        Choose none
      </button>
    </div>
    <div
      ref="box"
      role="grid"
      tabindex="0"
      :aria-label="label"
      :aria-rowcount="total ?? rows.length"
      :aria-multiselectable="chooses || undefined"
      :aria-activedescendant="at < 0 ? `${base}-head-${column}` : rows[at] ? `${base}-${id(rows[at]!)}` : undefined"
      class="group max-h-[70vh] min-h-0 flex-initial overflow-auto"
      @keydown="pressed"
      @scroll.passive="keepScroll"
    >
      <div
        role="row"
        aria-rowindex="1"
        class="sticky top-0 z-[5] grid items-center gap-3 border-b border-seam bg-paper px-3.5 text-[12px] font-semibold text-ash"
        :style="{ gridTemplateColumns: grid }"
      >
        <span v-if="chooses" role="columnheader"><span class="sr-only">Chosen</span></span>
        <span
          v-for="(c, k) in shown"
          :id="`${base}-head-${k}`"
          :key="c.id"
          role="columnheader"
          :aria-sort="sorted(c)"
          class="truncate py-1.5"
          :class="
            at < 0 && column === k ? 'group-focus:outline-2 group-focus:-outline-offset-2 group-focus:outline-ink' : ''
          "
        >
          <button
            v-if="c.sort"
            type="button"
            tabindex="-1"
            class="flex min-h-[24px] items-center gap-1 hover:text-ink"
            @click="sortBy(c)"
          >
            {{ c.title }}<ArrowUp v-if="sorted(c) === 'ascending'" class="size-3" aria-hidden="true" /><ArrowDown
              v-else-if="sorted(c)"
              class="size-3"
              aria-hidden="true"
            /><ArrowDownUp v-else class="size-3 opacity-40" aria-hidden="true" />
          </button>
          <template v-else>{{ c.title }}</template>
        </span>
      </div>
      <p v-if="!rows.length" class="p-4 text-ash">
        {{ filtered ? 'Nothing found. Take a condition away to see more.' : none }}
      </p>
      <div role="rowgroup" class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
        <!-- eslint-disable vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/interactive-supports-focus -- the grid has the focus and the keys -->
        <div
          v-for="v in items"
          :id="`${base}-${id(rows[v.index]!)}`"
          :key="id(rows[v.index]!)"
          role="row"
          :aria-rowindex="v.index + 2"
          :aria-selected="chooses ? chosen.has(id(rows[v.index]!)) : undefined"
          class="absolute inset-x-0 top-0 grid h-[38px] cursor-pointer items-center gap-3 border-b border-seam px-3.5 hover:bg-lime"
          :class="[
            at === v.index ? 'group-focus:outline-2 group-focus:-outline-offset-2 group-focus:outline-ink' : '',
            current === id(rows[v.index]!) ? 'bg-mode-card/40' : '',
            tint?.(rows[v.index]!) ?? '',
          ]"
          :style="{ transform: `translateY(${v.start}px)`, gridTemplateColumns: grid }"
          @click="() => ((at = v.index), open(rows[v.index]!))"
        >
          <span
            v-if="chooses"
            role="gridcell"
            class="grid h-full place-items-center"
            @click.stop="
              (e: MouseEvent) => ((at = v.index), choose(v.index, !chosen.has(id(rows[v.index]!)), e.shiftKey))
            "
          >
            <span
              class="tick"
              :data-state="String(chosen.has(id(rows[v.index]!)))"
              :title="`Choose ${name(rows[v.index]!)}`"
            />
          </span>
          <span v-for="(c, k) in shown" :key="c.id" role="gridcell" class="min-w-0 truncate">
            <slot :name="c.id" :row="rows[v.index]!" :index="v.index">
              <RouterLink
                v-if="k === 0 && to"
                :to="to(rows[v.index]!)"
                tabindex="-1"
                class="font-semibold hover:underline"
                @click.stop
                >{{ name(rows[v.index]!) }}</RouterLink
              >
              <template v-else>{{ c.text ? c.text(rows[v.index]!) : k === 0 ? name(rows[v.index]!) : '' }}</template>
            </slot>
          </span>
        </div>
      </div>
    </div>
    <p class="note border-t border-seam px-3.5 py-1" role="status">{{ counted }}</p>
  </div>
</template>
