<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { client } from '../../core/query'
import { useAttempt } from '../../ui/attempt'

/** The louder log of a car: relays are events too for a while, with what that costs the log. */
const props = defineProps<{ id: number; shaft: Schemas['Shaft'] }>()
const { attempt, busy, problem } = useAttempt()
const minutes = ref(15)
const told = ref('')
const set = (n: number) =>
  attempt(async () => {
    const a = await ask(
      api.POST('/api/elevators/{id}/louder', { params: { path: { id: props.id } }, body: { minutes: n } }),
    )
    told.value = a.answers[0]?.reached ? '' : (a.answers[0]?.words ?? '')
    await client.invalidateQueries({ queryKey: ['computed', 'shaft'] })
  })
</script>

<template>
  <section class="card" aria-label="Louder log">
    <div class="card-head">
      <h2>Louder log</h2>
      <span class="note">{{ shaft.loud || 'relays are no events' }}</span>
    </div>
    <div class="space-y-2 px-3.5 py-2.5 text-[13.5px]">
      <p>For tests: each relay that goes on or off is an event. {{ shaft.costs }}</p>
      <div class="flex flex-wrap items-center gap-2">
        <button v-if="shaft.loud" type="button" class="btn px-2.5 py-1" :disabled="busy" @click="set(0)">
          As usual again
        </button>
        <template v-else>
          <button type="button" class="btn px-2.5 py-1" :disabled="busy || !shaft.live" @click="set(minutes)">
            Louder for
          </button>
          <label class="flex items-center gap-1.5"
            ><input
              v-model.number="minutes"
              class="field w-20! py-1 font-mono"
              type="number"
              min="1"
              max="240"
              aria-label="Minutes of the louder log"
            />
            min</label
          >
        </template>
      </div>
      <p v-if="told || problem" role="alert" class="font-semibold text-wine">{{ problem || told }}</p>
    </div>
  </section>
</template>
