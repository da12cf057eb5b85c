<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'
import PeekName from '../../ui/PeekName.vue'

/** Who has a level: themselves, through a department, or through a level that contains it. */
const props = defineProps<{ id: number }>()
const query = useComputed(
  'holders',
  () => [props.id],
  (signal) => ask(api.GET('/api/levels/{id}/holders', { params: { path: { id: props.id } }, signal })),
)
const all = ref(false)
const few = 8
const shown = computed(() => (query.data.value?.list ?? []).slice(0, all.value ? undefined : few))
</script>

<template>
  <h2>
    Who has it <span class="note font-normal">{{ query.data.value?.count }}</span>
  </h2>
  <div class="card text-[13px]" aria-label="Who has it">
    <p v-if="query.data.value && !query.data.value.count" class="p-3 text-ash">Nobody has it yet.</p>
    <p v-for="h in shown" :key="h.id" class="border-t border-seam px-3 py-1.5 first:border-t-0">
      <PeekName :id="h.id" kind="person" :name="h.name" />
      <span v-if="h.by || h.dates" class="note block text-[12px]">{{
        [h.by && `through ${h.by}`, h.dates].filter(Boolean).join(', ')
      }}</span>
    </p>
    <p v-if="(query.data.value?.list.length ?? 0) > few" class="border-t border-seam px-3 py-1.5">
      <button class="underline" @click="all = !all">{{ all ? 'Fewer' : `All ${query.data.value!.count}` }}</button>
    </p>
  </div>
</template>
