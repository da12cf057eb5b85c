<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import { dateOf, timeOf } from '../../words'

/** Where a person was lately, and what the doors said. */
const props = defineProps<{ id: number }>()
const lately = useComputed(
  'lately',
  () => [props.id],
  (signal) => ask(api.GET('/api/events', { params: { query: { person: props.id, quiet: true, limit: 6 } }, signal })),
  () => props.id > 0,
)
const events = computed<Schemas['Event'][]>(() => lately.data.value ?? [])
const again = useDebounceFn(() => lately.refetch(), 150)
onScopeDispose(listen((n) => n.type === 'event' && props.id && n.event.personId === props.id && void again()))
</script>

<template>
  <div class="space-y-3">
    <h2>Lately</h2>
    <div class="card text-[13px]">
      <p v-if="!events.length" class="p-3 text-ash">Has not been at a door yet.</p>
      <RouterLink
        v-for="e in events"
        :key="e.id"
        :to="`/watch?person=${id}`"
        class="row items-start py-1.5 hover:bg-lime"
        ><span class="w-[74px] shrink-0 font-mono text-[11px] whitespace-nowrap text-ash"
          >{{ dateOf(e.at, e.zone) }}<br />{{ timeOf(e.at, e.zone) }}</span
        ><span
          >{{ e.headline }}<span class="note block text-[12px]">{{ e.door }}</span></span
        ></RouterLink
      >
    </div>
  </div>
</template>
