<script setup lang="ts">
import { useTitle } from '@vueuse/core'
import { computed } from 'vue'

const props = defineProps<{
  title: string
  under?: string
  /** A table fills what is left of the height, and scrolls by itself. */
  fill?: boolean
}>()
useTitle(computed(() => `${props.title} · Amber Keystone`))
</script>

<template>
  <div
    class="sheet grid h-full min-h-0 grid-cols-[minmax(0,1fr)_262px] max-xl:grid-cols-[minmax(0,1fr)_214px] max-lg:block max-lg:h-auto max-lg:overflow-visible"
  >
    <main
      id="content"
      class="relative min-h-0 px-5 pt-4 max-xl:px-3 max-lg:overflow-visible"
      :class="fill ? 'overflow-hidden pb-4 max-lg:pb-10' : 'overflow-auto pb-10'"
      tabindex="-1"
    >
      <div class="mx-auto flex max-w-[1100px] flex-col" :class="fill ? 'h-full max-lg:h-auto' : 'min-h-full'">
        <slot name="above" />
        <header class="mb-3">
          <div class="flex items-start justify-between gap-4 max-xl:flex-wrap max-xl:gap-2">
            <div class="min-w-0 flex-1">
              <h1 id="page-title" tabindex="-1" class="break-words outline-none" :class="$slots.title ? 'sr-only' : ''">
                {{ title }}
              </h1>
              <slot name="title" />
            </div>
            <div class="flex shrink-0 flex-wrap items-center gap-2"><slot name="actions" /></div>
          </div>
          <div v-if="under || $slots.under" class="mt-1 text-ash">
            <slot name="under">{{ under }}</slot>
          </div>
        </header>
        <slot />
      </div>
    </main>
    <aside
      class="relative flex min-h-0 flex-col gap-3 overflow-auto border-l border-seam bg-lime px-3.5 pt-4 *:shrink-0 after:h-1 max-xl:px-2.5 max-lg:overflow-visible max-lg:border-t max-lg:border-l-0"
      aria-label="Beside"
    >
      <slot name="aside" />
    </aside>
  </div>
</template>
