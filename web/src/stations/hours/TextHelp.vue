<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'

/** What hours can be written as text. */
const props = defineProps<{ plan?: boolean }>()
const lines: [string, string][] = [
  ['Mo-Fr 08:30-17:00', 'weekdays and times'],
  ['Tu-Th,Sa 10:00-12:00,13:00-17:00', 'several of each'],
  ['22:00-06:00', 'past midnight, every day'],
  ['… ; Sa off', '; says anew what these days do'],
  ['… , Sa 09:00-10:00', ', adds to it'],
  ['24/7', 'always'],
  ['… ; PH off', 'on every type of holiday; last'],
  ...(props.plan
    ? ([
        ['… "card and PIN"', 'the mode, in quotes'],
        ['… "free after first card"', 'waits for a first card'],
        ['… "card only Staff|Crew"', 'only these levels count'],
      ] as [string, string][])
    : []),
]
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="underline decoration-dotted underline-offset-3">What can be written</PopoverButton>
    <PopoverPanel class="absolute right-0 z-20 mt-1 w-[440px] rounded-lg border border-seam bg-paper p-3 shadow-lg">
      <p v-for="[text, words] in lines" :key="text" class="flex justify-between gap-4 py-0.5">
        <span class="font-mono text-[12px]">{{ text }}</span><span class="text-right text-ash">{{ words }}</span>
      </p>
      <p class="note mt-1.5 border-t border-seam pt-1.5 text-[12px]">
        The opening_hours specification of OpenStreetMap, without dates, months and the sun.
      </p>
    </PopoverPanel>
  </Popover>
</template>
