<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'

/** Asks a controller about itself, its clock, and what its terminals say. */
const props = defineProps<{ id: number }>()
const path = { path: { id: props.id } }
const lines = ref<Schemas['TestLine'][]>([])
const { attempt, busy: testing, problem } = useAttempt()
const good = computed(() => lines.value.filter((l) => l.ok).length)
const asked = async () => {
  lines.value = await ask(api.POST('/api/controllers/{id}/self-test', { params: path }))
}
const test = () => attempt(asked)
const setClock = () =>
  attempt(async () => {
    await ask(api.POST('/api/controllers/{id}/set-clock', { params: path }))
    await asked()
  })
</script>

<template>
  <section class="card mb-4">
    <div class="card-head">
      <h2>Self-test</h2>
      <span class="flex items-center gap-3"
        ><span v-if="lines.length" class="note">{{ good }} of {{ lines.length }} good</span
        ><button class="btn btn-amber px-2.5 py-0.5" :disabled="testing" @click="test">
          {{ testing ? 'Testing …' : 'Test now' }}
        </button></span
      >
    </div>
    <p v-if="problem" role="alert" class="p-3.5 font-semibold text-wine">{{ problem }}</p>
    <p v-else-if="!lines.length" class="p-3.5 text-ash">
      Asks whether the controller answers, whether its clock is right, and what its readers, contacts and exit requests
      say.
    </p>
    <div v-for="(l, i) in lines" :key="i" class="row py-1.5">
      <span class="w-4 font-bold" :class="l.ok ? 'text-kelp' : 'text-wine'" :aria-label="l.ok ? 'good' : 'not good'">{{
        l.ok ? '✓' : '✗'
      }}</span>
      <span class="w-40">{{ l.place }}</span><span class="w-28 text-ash">{{ l.what }}</span>
      <span class="flex-1" :class="l.ok ? '' : 'font-semibold'"
        >{{ l.words }}<span v-if="l.mend" class="note block font-normal">{{ l.mend }}</span></span
      >
      <button v-if="l.fix === 'set-clock'" class="btn px-2 py-0.5" @click="setClock">Set the clock</button>
    </div>
  </section>
</template>
