<script setup lang="ts">
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'
import PeekName from '../../ui/PeekName.vue'

/** The doors of a level that its people reach through another level too. */
const props = defineProps<{ id: number }>()
const query = useComputed(
  'overlap',
  () => [props.id],
  (signal) => ask(api.GET('/api/levels/{id}/overlap', { params: { path: { id: props.id } }, signal })),
)
</script>

<template>
  <template v-if="query.data.value?.length">
    <h2>Reached otherwise too</h2>
    <div class="card text-[13px]">
      <p
        v-for="o in query.data.value.slice(0, 12)"
        :key="`${o.door}${o.levelId}`"
        class="border-t border-seam px-3 py-1.5 first:border-t-0"
      >
        {{ o.name }} by <PeekName v-if="o.levelId > 0" :id="o.levelId" kind="level" :name="o.level" /><b v-else>{{
          o.level
        }}</b>
        <span class="note block text-[12px]">{{ o.words }}</span>
      </p>
    </div>
  </template>
</template>
