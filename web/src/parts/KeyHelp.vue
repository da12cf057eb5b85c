<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { onBeforeUnmount, onMounted, ref } from 'vue'

const open = ref(false)
const keys = [
  ['Everywhere', [['Ctrl K', 'go to a door, person, schedule, station'], ['Alt 1 … Alt 7', 'a station'], ['Ctrl S', 'save'], ['?', 'these keys']]],
  ['A week', [['Arrows', 'move by 5 minutes, or a row'], ['Shift + arrows', 'move by an hour'], ['Enter', 'begin and end a stroke'], ['Esc', 'let the stroke go'], ['Delete', 'wipe the stroke, or the segment'], ['E', 'the segment in numbers'], ['F C P B I R', 'choose what to paint'], ['Ctrl Z, Ctrl Y', 'undo, redo']]],
  ['A year', [['← →', 'move by days'], ['↑ ↓', 'move by weeks'], ['Enter', 'open the day']]],
  ['The bench', [['Enter', 'present the chosen card'], ['← →', 'choose a card'], ['0 – 9, #, *', 'the keypad'], ['O', 'open or close'], ['E', 'exit button'], ['N', 'network']]],
] as const

function key(e: KeyboardEvent) {
  const t = e.target as HTMLElement
  if (e.key === '?' && !/INPUT|TEXTAREA|SELECT/.test(t.tagName)) open.value = !open.value
}
onMounted(() => window.addEventListener('keydown', key))
onBeforeUnmount(() => window.removeEventListener('keydown', key))
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel class="w-[640px] rounded-lg bg-plaster p-6">
        <DialogTitle as="h1" class="mb-3">Keys</DialogTitle>
        <div class="grid grid-cols-2 gap-x-8 gap-y-4">
          <section v-for="[where, list] in keys" :key="where">
            <h2 class="mb-1">{{ where }}</h2>
            <p v-for="[k, what] in list" :key="k" class="flex justify-between gap-3 py-0.5"><span class="key text-ink">{{ k }}</span><span class="text-right text-ash">{{ what }}</span></p>
          </section>
        </div>
        <button class="btn mt-4" @click="open = false">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
