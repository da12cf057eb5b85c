<script setup lang="ts">
defineProps<{ title: string; under?: string }>()
</script>

<template>
  <div class="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_262px] max-xl:grid-cols-[minmax(0,1fr)_214px]">
    <main class="min-h-0 overflow-auto px-5 pt-4 pb-10 max-xl:px-3">
      <div class="mx-auto max-w-[1100px]">
        <header class="mb-3 flex items-start justify-between gap-4 max-xl:flex-wrap max-xl:gap-2">
          <div class="min-w-0">
            <slot name="title"><h1>{{ title }}</h1></slot>
            <p v-if="under || $slots.under" class="mt-1 text-ash"><slot name="under">{{ under }}</slot></p>
          </div>
          <div class="flex shrink-0 items-center gap-2"><slot name="actions" /></div>
        </header>
        <slot />
      </div>
    </main>
    <aside class="flex min-h-0 flex-col gap-3 overflow-auto border-l border-seam bg-lime px-3.5 pt-4 *:shrink-0 after:h-1 max-xl:px-2.5" aria-label="Beside"><slot name="aside" /></aside>
  </div>
</template>
