<script setup lang="ts">
import type { Schemas } from '../../api/client'

/** The two codes that a person compares: this screen's, and the controller's own. */
defineProps<{ compare: Schemas['Compare']; small?: boolean }>()
</script>

<template>
  <div class="grid grid-cols-2 gap-3 text-center" :class="small ? 'my-2' : 'my-4'">
    <figure class="card" :class="small ? 'p-1.5' : 'p-3'">
      <p class="font-mono font-semibold tracking-wider" :class="small ? 'text-[18px]' : 'text-[28px]'" data-code="here">
        {{ compare.code }}
      </p>
      <figcaption class="note">this screen</figcaption>
    </figure>
    <figure class="rounded-lg bg-basalt text-paper" :class="small ? 'p-1.5' : 'p-3'">
      <p
        class="font-mono font-semibold tracking-wider text-amber"
        :class="small ? 'text-[18px]' : 'text-[28px]'"
        data-code="there"
      >
        {{ compare.shows || '––– –––' }}
      </p>
      <figcaption class="text-[13px] text-seam">display of {{ compare.serial }}, a stand-in</figcaption>
    </figure>
  </div>
</template>
