<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from 'vue'
import { modeClass } from '../../words'
import { button, floorWords, fromTop, type Floor } from './useShaft'

/** A car's floors, the lowest at the bottom: each with its relay, and what it does now. The arrow keys choose one. */
const props = defineProps<{
  floors: Floor[]
  /** What the elevator asks where a floor is held. */
  mode: string
  now: number
  /** Where the car stands, at the bench. */
  car?: number
  label?: string
}>()
const chosen = defineModel<number>('chosen', { required: true })
const emit = defineEmits<{ press: [floorId: number] }>()
const list = useTemplateRef<HTMLElement>('list')
const top = computed(() => fromTop(props.floors))
const many = computed(() => props.floors.length > 10)
const looks = (f: Floor) =>
  f.why === 'card'
    ? 'mode-open'
    : f.why === 'held'
      ? modeClass(props.mode === 'free' ? 'card' : props.mode)
      : 'mode-free'
const lit = (f: Floor) => f.why !== 'held' && f.why !== 'offered'
function go(by: number, to = top.value.findIndex((f) => f.floorId === chosen.value) + by) {
  const f = top.value[Math.max(0, Math.min(top.value.length - 1, to))]
  if (!f) return
  chosen.value = f.floorId
  void nextTick(() => list.value?.querySelector<HTMLElement>('[aria-selected=true]')?.focus())
}
function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown') go(1)
  else if (e.key === 'ArrowUp') go(-1)
  else if (e.key === 'Home') go(0, 0)
  else if (e.key === 'End') go(0, top.value.length - 1)
  else return
  e.preventDefault()
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/interactive-supports-focus -- its options have the focus -->
  <div
    ref="list"
    role="listbox"
    :aria-label="label ?? 'Floors, the highest first'"
    class="overflow-auto px-3 py-3"
    :class="many ? 'max-h-[520px]' : ''"
    @keydown="key"
  >
    <!-- eslint-disable-next-line vuejs-accessibility/interactive-supports-focus -- one of them has the focus, by the arrow keys -->
    <div
      v-for="(f, i) in top"
      :key="f.floorId"
      role="option"
      :aria-selected="f.floorId === chosen"
      :tabindex="f.floorId === chosen || (!chosen && i === 0) ? 0 : -1"
      class="group grid cursor-pointer grid-cols-[72px_34px_128px_minmax(0,1fr)] items-center outline-none"
      @click="((chosen = f.floorId), emit('press', f.floorId))"
      @keydown.enter.stop.prevent="emit('press', f.floorId)"
      @keydown.space.stop.prevent="emit('press', f.floorId)"
    >
      <span
        class="rounded-[4px] border border-ink/70 bg-paper py-0.5 text-center font-mono text-[12px]"
        :title="f.at ? `Relay ${f.relay}, terminal ${f.at}` : `Relay ${f.relay} has no expander`"
        >{{ f.at ? f.at.replace('/o', '.') : 'none' }}</span
      >
      <span class="h-[3px]" :class="lit(f) ? 'bg-dot' : 'bg-seam'" aria-hidden="true" />
      <span
        class="relative grid place-items-center border-x-[8px] border-basalt font-mono font-bold"
        :class="[
          many ? 'h-[30px] text-[14px]' : 'h-[62px] text-[22px]',
          i === 0 ? 'border-t-[8px]' : 'border-t-[4px]',
          i === top.length - 1 ? 'border-b-[8px]' : '',
        ]"
        aria-hidden="true"
        ><span
          class="absolute inset-0"
          :class="[
            looks(f),
            f.why === 'card'
              ? 'outline-3 -outline-offset-3 outline-kelp'
              : f.why === 'offered'
                ? 'outline-3 -outline-offset-3 outline-kelp outline-dashed'
                : '',
          ]"
        /><span
          class="relative rounded px-1.5"
          :class="[mode === 'barred' && !lit(f) ? 'bg-paper' : '', f.floorId === car ? 'bg-basalt text-paper' : '']"
          >{{ button(f.level) }}</span
        ></span
      >
      <span
        class="min-w-0 rounded-md px-3 py-1 group-focus-visible:outline-2 group-focus-visible:outline-ink"
        :class="f.floorId === chosen ? 'bg-lime ring-1 ring-edge ring-inset' : ''"
        ><b class="block leading-tight" :class="many ? 'truncate' : 'line-clamp-2'" :title="f.name">{{ f.name }}</b
        ><span class="sr-only">, </span
        ><span class="block text-[12.5px] leading-tight" :class="lit(f) ? 'font-semibold text-kelp' : 'text-ash'"
          >{{ floorWords(f, now) }}<template v-if="f.floorId === car"> · the car is here</template></span
        ></span
      >
    </div>
  </div>
</template>
