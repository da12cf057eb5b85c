<script setup lang="ts">
import { rowsOf, type Board, type Terminal } from './terminals'
import TerminalTile from './TerminalTile.vue'

/** A controller or an expander, drawn terminal by terminal. Arrows walk over it; Enter chooses. */
const props = defineProps<{ board: Board; chosen: string; dragged?: Terminal; power?: Terminal[] }>()
const emit = defineEmits<{ choose: [at: string]; drag: [t: Terminal | undefined]; drop: [at: string] }>()

/** So many beside each other that the rows are about even, and no tile too narrow. */
const columns = (n: number) => Math.max(4, Math.ceil(n / Math.ceil(n / 6)))

/** What is dragged may fall on a free terminal of its kind. */
const takes = (t: Terminal) => !!props.dragged && !t.use && t.kind === props.dragged.kind

function walk(e: KeyboardEvent) {
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 'down', ArrowUp: 'up' }[e.key]
  if (!step) return
  const all = [...document.querySelectorAll<HTMLElement>('[data-terminal]')]
  const here = all.findIndex((x) => x === document.activeElement)
  if (here < 0) return
  e.preventDefault()
  if (typeof step === 'number') return all[here + step]?.focus()
  const at = all[here]!.getBoundingClientRect()
  const rows = all
    .map((el) => ({ el, box: el.getBoundingClientRect() }))
    .filter(({ box }) => (step === 'down' ? box.top > at.bottom - 8 : box.bottom < at.top + 8))
  const near = (box: DOMRect) =>
    Math.abs(box.top - at.top) * 8 + Math.abs(box.left + box.width / 2 - at.left - at.width / 2)
  rows.sort((a, b) => near(a.box) - near(b.box))
  rows[0]?.el.focus()
}
</script>

<template>
  <section class="card mb-3" :aria-label="board.title">
    <div class="card-head">
      <h2>{{ board.title }}</h2>
      <span class="flex items-center gap-3"
        ><span class="note">{{ board.note }}</span
        ><slot name="tools"
      /></span>
    </div>
    <div class="space-y-2 p-3">
      <div v-for="r in rowsOf(board)" :key="r.kind" class="grid grid-cols-[64px_minmax(0,1fr)] gap-2">
        <h3 class="pt-1 text-[13px] font-bold">{{ r.title }}</h3>
        <ul class="grid gap-1.5" :style="{ gridTemplateColumns: `repeat(${columns(r.list.length)}, minmax(0, 1fr))` }">
          <li v-for="t in r.list" :key="t.at">
            <TerminalTile
              :terminal="t"
              :chosen="chosen === t.at"
              :takes="takes(t)"
              @choose="emit('choose', t.at)"
              @keydown="walk"
              @drag="emit('drag', t)"
              @end="emit('drag', undefined)"
              @drop="emit('drop', t.at)"
            />
          </li>
        </ul>
      </div>
      <div v-if="power?.length" class="grid grid-cols-[64px_minmax(0,1fr)] gap-2">
        <h3 class="pt-1 text-[13px] font-bold">Power</h3>
        <ul class="grid grid-cols-3 gap-1.5">
          <li v-for="t in power" :key="t.at">
            <TerminalTile
              :terminal="t"
              :chosen="chosen === t.at"
              :takes="false"
              @choose="emit('choose', t.at)"
              @keydown="walk"
            />
          </li>
        </ul>
      </div>
    </div>
  </section>
</template>
