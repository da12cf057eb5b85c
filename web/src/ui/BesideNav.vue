<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ChevronLeft, ChevronRight } from '@lucide/vue'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '../api/client'
import { placePath } from '../app/places'
import { listParams } from '../core/address'
import { useKeys } from '../core/keys'
import { keys, type Kind } from '../core/query'

/** The object before and after this one in the list that it was opened from, as that list is filtered and sorted. */
const props = defineProps<{ kind: Kind; id: number }>()
const route = useRoute()
const router = useRouter()
const params = computed(() => listParams(route.query))
const { data } = useQuery({
  queryKey: computed(() => keys.beside(props.kind, props.id, params.value)),
  queryFn: ({ signal }) =>
    ask(
      api.GET('/api/beside/{kind}/{id}', {
        params: { path: { kind: props.kind, id: props.id }, query: params.value },
        signal,
      }),
    ),
  enabled: computed(() => props.id > 0),
})
function go(to?: { id: number }) {
  if (to) void router.push({ path: placePath(props.kind, to.id, route.path), query: route.query })
}
useKeys('This sheet', [
  { keys: '[', what: 'The one before in the list', run: () => go(data.value?.before) },
  { keys: ']', what: 'The next in the list', run: () => go(data.value?.after) },
])
</script>

<template>
  <nav v-if="data && data.number" class="flex items-center gap-1" aria-label="In the list">
    <button
      class="btn size-8 p-0"
      :disabled="!data.before"
      :title="data.before ? `${data.before.name}  [` : 'the first'"
      :aria-label="data.before ? `Before: ${data.before.name}` : 'This is the first'"
      @click="go(data.before)"
    >
      <ChevronLeft class="size-4" />
    </button>
    <span class="note tabular-nums">{{ data.number }} of {{ data.total }}</span>
    <button
      class="btn size-8 p-0"
      :disabled="!data.after"
      :title="data.after ? `${data.after.name}  ]` : 'the last'"
      :aria-label="data.after ? `Next: ${data.after.name}` : 'This is the last'"
      @click="go(data.after)"
    >
      <ChevronRight class="size-4" />
    </button>
  </nav>
</template>
