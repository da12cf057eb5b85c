<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { useComputed } from '../core/query'
import { useSite } from '../core/site'
import { useAttempt } from '../ui/attempt'

/** People who are all there at a door and wait for an operator's word: on every page, for whoever sits here. */
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const waiting = computed(() =>
  site
    .overview!.sites.flatMap((s) => s.floors.flatMap((f) => f.doors.filter((d) => d.awaits && !d.offline)))
    .map((d) => d.id),
)
const query = useComputed(
  'awaiting now',
  () => waiting.value,
  (signal) => ask(api.GET('/api/awaiting-now', { signal })),
  () => waiting.value.length > 0,
)
const list = computed<Schemas['AwaitingNow'][]>(() =>
  (query.data.value ?? []).filter((x) => waiting.value.includes(x.id)),
)
const say = (x: Schemas['AwaitingNow'], what: 'confirm' | 'refuse') =>
  attempt(async () => {
    await ask(api.POST('/api/orders', { body: { what, targets: [{ kind: 'door', id: x.id }] } }))
  })
</script>

<template>
  <div v-if="list.length" class="print:hidden border-b border-violet bg-paper px-4 py-1.5" role="alert">
    <p v-for="x in list" :key="x.id" class="flex flex-wrap items-center gap-2 text-[14px]">
      <span
        ><b>{{ x.people.join(' and ') }}</b> wait at
        <RouterLink class="font-semibold underline" :to="`/prove/${x.id}`">{{ x.name }}</RouterLink> for your word,
        until {{ x.until }}.</span
      >
      <button
        type="button"
        class="btn btn-amber px-3 py-0.5"
        :disabled="busy"
        :aria-label="`Let them in: ${x.name}`"
        @click="say(x, 'confirm')"
      >
        Let them in</button
      ><button
        type="button"
        class="btn px-3 py-0.5"
        :disabled="busy"
        :aria-label="`Refuse them: ${x.name}`"
        @click="say(x, 'refuse')"
      >
        Refuse them
      </button>
      <span v-if="problem" class="font-semibold text-wine">{{ problem }}</span>
    </p>
  </div>
</template>
