<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask } from '../../api/client'
import StateBox from '../../ui/StateBox.vue'
import type { DoorHere } from './useDoor'

/** What decides at a door, the highest layer first. */
const props = defineProps<{ door: DoorHere; then: string }>()
const { sheet, moment, edit, looked } = props.door
const first = computed(() => sheet.value?.week.flatMap((d) => d.marks).find((m) => m.first))
const firstWords = ref('')
watch(
  [first, edit.stored],
  async () => {
    const rule = edit.stored.value?.value.firstCard
    if (!first.value || !rule) return
    firstWords.value = await ask(api.POST('/api/hours/first-card', { body: { rule, start: first.value.start } })).catch(
      () => '',
    )
  },
  { immediate: true },
)
</script>

<template>
  <StateBox
    v-if="!sheet"
    :loading="looked.isPending.value"
    :error="looked.error.value"
    :again="() => looked.refetch()"
    :rows="8"
  />
  <section v-else class="card self-start">
    <div class="card-head">
      <h2>What decides</h2>
      <span class="note">{{ then || 'highest first' }}</span>
    </div>
    <div v-for="l in sheet.layers" :key="l.name" class="row" :class="l.decides ? 'bg-mode-card/40' : ''">
      <span class="w-28 shrink-0 text-ash max-xl:w-20">{{ l.name }}</span><span
        class="flex-1"
        :class="l.decides ? 'font-semibold' : ''"
        >{{ l.words }}</span
      >
      <span v-if="l.decides" class="rounded bg-amber px-2 py-0.5 text-[11px] font-bold text-amber-ink">{{
        moment ? 'decides then' : 'decides now'
      }}</span><span v-else-if="l.next" class="rounded bg-violet/15 px-2 py-0.5 text-[11px] font-bold text-violet"
        >next</span
      >
    </div>
    <p class="note border-t border-seam px-3.5 py-2">
      Exit requests work in every layer.<template v-if="first"
        >&nbsp; <b class="text-kelp">First card:</b> {{ firstWords }}</template
      >
    </p>
  </section>
</template>
