<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import UpdateFirmware from './UpdateFirmware.vue'

/** What is not well with the controllers, and what to do about it. */
const { attempt, busy, problem } = useAttempt()
const query = useComputed(
  'keep',
  () => [],
  (signal) => ask(api.GET('/api/keep', { signal })),
)
const todo = computed(() => query.data.value?.todo ?? [])
const updating = ref<number[]>([])
const fixes: Record<string, string> = { 'set-clock': 'Set it', send: 'Send', update: 'Update' }
const fix = (t: Schemas['Todo']) =>
  attempt(async () => {
    if (t.fix === 'update') updating.value = [t.id]
    else if (t.fix === 'send') await ask(api.POST('/api/send', { body: { controllers: [t.id] } }))
    else await ask(api.POST('/api/set-clocks', { body: { ids: [t.id] } }))
    await query.refetch()
  })
</script>

<template>
  <template v-if="todo.length">
    <h2>What to do</h2>
    <p v-if="problem" role="alert" class="text-[13px] font-semibold text-wine">{{ problem }}</p>
    <ul class="card text-[13px]" aria-label="What to do">
      <li v-for="(t, i) in todo.slice(0, 12)" :key="i" class="border-t border-seam p-2.5 leading-snug first:border-t-0">
        <RouterLink class="font-bold hover:underline" :to="`/build/controllers/${t.id}`">{{ t.words }}</RouterLink>.
        <span class="text-ash">{{ t.mend }}</span>
        <button v-if="t.fix" class="btn mt-1 block px-2 py-0.5" :disabled="busy" @click="fix(t)">
          {{ fixes[t.fix] }}
        </button>
      </li>
      <li v-if="todo.length > 12" class="note p-2.5">and {{ todo.length - 12 }} more</li>
    </ul>
    <UpdateFirmware v-if="updating.length" :ids="updating" @close="updating = []" />
  </template>
</template>
