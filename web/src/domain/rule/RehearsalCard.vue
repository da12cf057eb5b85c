<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import { many } from '../../words'

/** What each door would do, played in simulated time. */
defineProps<{ rehearsal?: Schemas['Rehearsal'] | undefined }>()
</script>

<template>
  <section class="card" aria-label="Rehearsal">
    <div class="card-head">
      <h2>Rehearsal</h2>
      <span class="note"
        >{{ rehearsal ? many(rehearsal.doors.length, 'door', 'doors') : '…' }}, as if it began now; nothing is
        changed</span
      >
    </div>
    <p v-for="w in rehearsal?.wrong ?? []" :key="w" class="px-3.5 pt-2 text-[13px] font-semibold text-wine">
      {{ w }}
    </p>
    <div class="max-h-[560px] overflow-auto" tabindex="0" role="region" aria-label="Doors of the rehearsal">
      <table class="w-full text-[13px]">
        <thead class="sticky top-0 bg-paper text-left text-ash">
          <tr>
            <th class="px-3.5 py-1.5 font-normal" scope="col">Door</th>
            <th class="px-2 py-1.5 font-normal" scope="col">Asks now</th>
            <th class="px-2 py-1.5 font-normal" scope="col">Would ask</th>
            <th class="px-2 py-1.5 font-normal" scope="col">Comes in</th>
            <th class="px-3.5 py-1.5 font-normal" scope="col">Out</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in (rehearsal?.doors ?? []).slice(0, 300)" :key="d.id" class="border-t border-seam/60 align-top">
            <td class="px-3.5 py-1">
              <RouterLink class="underline" :to="`/rules/doors/${d.id}`">{{ d.name }}</RouterLink>
            </td>
            <td class="px-2 py-1">{{ d.before }}</td>
            <td class="px-2 py-1 font-semibold">{{ d.after }}</td>
            <td class="px-2 py-1">{{ d.in }}</td>
            <td class="px-3.5 py-1" :class="d.out.startsWith('nothing') ? 'text-wine' : ''">{{ d.out }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="(rehearsal?.doors.length ?? 0) > 300" class="note px-3.5 py-2">
      and {{ rehearsal!.doors.length - 300 }} more
    </p>
  </section>
</template>
