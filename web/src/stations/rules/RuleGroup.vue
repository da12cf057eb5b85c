<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'

/** Rules of one sort, each as the sentence that says what it does. */
defineProps<{
  title: string
  none: string
  rows: Schemas['RuleRow'][]
  to: (r: Schemas['RuleRow']) => string
  add?: { name: string; to: string }
}>()
</script>

<template>
  <section class="card mb-3" :aria-label="title">
    <div class="card-head">
      <h2>
        {{ title }} <span class="note font-normal">{{ rows.length || '' }}</span>
      </h2>
      <RouterLink v-if="add" class="btn px-2.5 py-1" :to="add.to">{{ add.name }}</RouterLink>
    </div>
    <p v-if="!rows.length" class="px-3.5 py-2.5 text-[13.5px] text-ash">{{ none }}</p>
    <article v-for="r in rows" :key="r.id" class="row items-start gap-3 py-2" :class="r.off ? 'text-ash' : ''">
      <div class="min-w-0 flex-1">
        <RouterLink class="font-semibold underline" :to="to(r)">{{ r.name }}</RouterLink>
        <span v-if="r.off" class="pill ml-2 border border-seam">not in use</span>
        <p class="mt-0.5 text-[13.5px] leading-relaxed">{{ r.words }}</p>
        <p v-if="r.note" class="note text-[12.5px]">{{ r.note }}</p>
      </div>
      <p class="w-40 shrink-0 text-right text-[12.5px] leading-relaxed max-md:w-28">
        <RouterLink
          v-for="d in r.doors.slice(0, 4)"
          :key="d.id"
          class="block min-h-[24px] truncate py-[3px] underline"
          :to="`/rules/doors/${d.id}`"
          >{{ d.name }}</RouterLink><span v-if="r.doors.length > 4" class="note"
          >and {{ r.doors.length - 4 }} more</span
        >
      </p>
    </article>
  </section>
</template>
