<script setup lang="ts">
import { RouterLink, useRoute } from 'vue-router'
import { api, ask } from '../api/client'
import { placePath } from '../app/places'
import { useComputed } from '../core/query'
import { many } from '../words'
import PeekName from './PeekName.vue'
import StateBox from './StateBox.vue'

/** What points to a thing, of one kind or of all. */
const props = defineProps<{ id: number; none: string; leaveOut?: string }>()
const route = useRoute()
const query = useComputed(
  'used by',
  () => [props.id],
  (signal) => ask(api.GET('/api/used-by/{id}', { params: { path: { id: props.id } }, signal })),
)
const list = () => (query.data.value ?? []).filter((p) => p.kind !== props.leaveOut)
const shown = 40
</script>

<template>
  <h2>Used by</h2>
  <StateBox
    v-if="!query.data.value"
    :loading="query.isPending.value"
    :error="query.error.value"
    :again="() => query.refetch()"
    :rows="2"
  />
  <div v-else class="card text-[13px]">
    <p v-if="!list().length" class="p-3 text-ash">{{ none }}</p>
    <div v-for="p in list().slice(0, shown)" :key="p.id" class="row py-1.5">
      <PeekName
        v-if="
          p.kind === 'level' || p.kind === 'plan' || p.kind === 'schedule' || p.kind === 'door' || p.kind === 'person'
        "
        :id="p.id"
        :kind="p.kind"
        :name="p.name"
      />
      <RouterLink v-else :to="placePath(p.kind, p.id, route.path)" class="underline underline-offset-3">{{
        p.name
      }}</RouterLink><span class="note ml-auto">{{ p.kind }}</span>
    </div>
    <p v-if="list().length > shown" class="note p-3">and {{ many(list().length - shown, 'more', 'more') }}</p>
  </div>
</template>
