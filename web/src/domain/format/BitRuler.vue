<script setup lang="ts">
import { computed, ref } from 'vue'
import { partsOf, type Layout, type Tool } from './layout'

/** A card format as a ruler of bits. A tool is laid over them with the hand, or with arrows, Shift and Enter. */
const props = defineProps<{ layout: Layout; tool?: Tool; read?: string }>()
const emit = defineEmits<{ lay: [from: number, to: number] }>()
const parts = computed(() => partsOf(props.layout))
const from = ref(0)
const to = ref(0)
const at = ref(1)
const watching = computed(() => (props.tool?.startsWith('watch') ? Number(props.tool.split(' ')[1]) : -1))
const chosen = (n: number) =>
  from.value > 0 && n >= Math.min(from.value, to.value) && n <= Math.max(from.value, to.value)

const looks = {
  facility: 'bg-mode-card',
  number: 'bg-mode-free',
  parity: 'bg-mode-card-pin',
  fixed: 'bg-seam',
  none: 'bg-paper',
}
const letters = { facility: 'F', number: 'N', parity: 'P', fixed: '', none: '·' }
function done() {
  if (from.value && props.tool) emit('lay', Math.min(from.value, to.value), Math.max(from.value, to.value))
  from.value = to.value = 0
}
function key(e: KeyboardEvent) {
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 16, ArrowUp: -16, Home: -256, End: 256 }[e.key]
  if (step) {
    e.preventDefault()
    const next = Math.min(parts.value.length, Math.max(1, at.value + step))
    if (e.shiftKey) {
      if (!from.value) from.value = at.value
      to.value = next
    } else from.value = to.value = 0
    at.value = next
    ;(e.currentTarget as HTMLElement).querySelector<HTMLElement>(`[data-bit="${next}"]`)?.focus()
  } else if (e.key === 'Enter' || e.key === ' ') {
    e.preventDefault()
    if (!from.value) from.value = to.value = at.value
    done()
  } else if (e.key === 'Escape') from.value = to.value = 0
}
const names = {
  facility: 'facility code',
  number: 'card number',
  parity: 'parity bit',
  fixed: 'fixed',
  none: 'not used',
}
function words(i: number): string {
  const p = parts.value[i]!
  const watched = p.watched.length ? `, watched by parity ${p.watched.map((k) => k + 1).join(' and ')}` : ''
  return `bit ${p.n}, ${names[p.part]}${p.part === 'parity' ? ` ${p.parity + 1}` : ''}${p.part === 'fixed' ? (p.one ? ' one' : ' zero') : ''}${watched}`
}
</script>

<template>
  <div
    role="grid"
    tabindex="-1"
    aria-label="Bits of the format"
    class="grid grid-cols-[repeat(auto-fill,26px)] gap-y-2 select-none"
    @keydown="tool && key($event)"
    @pointerup="done"
    @pointerleave="() => (from = to = 0)"
  >
    <div role="row" class="contents">
      <div
        v-for="(p, i) in parts"
        :key="p.n"
        role="gridcell"
        :tabindex="tool && p.n === at ? 0 : -1"
        :data-bit="p.n"
        :aria-label="words(i)"
        :title="words(i)"
        class="flex w-[26px] flex-col items-center border border-edge/60 font-mono leading-none"
        :class="[looks[p.part], chosen(p.n) ? 'ring-2 ring-ink' : '', tool ? 'cursor-crosshair' : '']"
        @pointerdown="() => ((from = to = p.n), (at = p.n))"
        @pointerenter="(e) => e.buttons && from && (to = p.n)"
      >
        <span class="pt-0.5 text-[9px] text-ash">{{ p.n }}</span>
        <b class="py-0.5 text-[12px]">{{
          read?.[i] ??
          (p.part === 'parity' ? `P${p.parity + 1}` : p.part === 'fixed' ? (p.one ? 1 : 0) : letters[p.part])
        }}</b>
        <span class="flex h-2 w-full flex-col justify-end"
          ><i
            v-for="(q, k) in layout.parity ?? []"
            :key="k"
            class="block h-[3px] w-full"
            :class="
              p.watched.includes(k) && (watching < 0 || watching === k)
                ? q.odd
                  ? 'bg-copper'
                  : 'bg-kelp'
                : 'bg-transparent'
            "
        /></span>
      </div>
    </div>
  </div>
</template>
