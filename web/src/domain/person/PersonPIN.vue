<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'

/** Sets a person's PIN; it is never shown. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ said: [words: string] }>()
const pin = ref('')
const problem = ref('')
const busy = ref(false)
const query = useComputed(
  'pin',
  () => [props.id],
  (signal) => ask(api.GET('/api/people/{id}/pin', { params: { path: { id: props.id } }, signal })),
)
const has = computed(() => query.data.value?.has ?? false)
const length = computed(() => query.data.value?.length ?? 4)
async function set(value: string) {
  if (busy.value) return
  busy.value = true
  try {
    await ask(api.PUT('/api/people/{id}/pin', { params: { path: { id: props.id } }, body: { pin: value } }))
    emit('said', value ? 'The PIN is set. It is stored hashed and cannot be shown again.' : 'The PIN is taken away.')
    pin.value = problem.value = ''
    await query.refetch()
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="card">
    <div class="card-head">
      <h2>PIN</h2>
      <span class="note">{{ has ? 'has one' : 'has none' }}</span>
    </div>
    <form class="row flex-wrap gap-2" @submit.prevent="set(pin)">
      <input
        v-model="pin"
        class="field w-32! font-mono"
        inputmode="numeric"
        autocomplete="off"
        :maxlength="length"
        :placeholder="`${length} digits`"
        aria-label="New PIN"
        :aria-invalid="!!problem || undefined"
        aria-describedby="pin-problem"
      /><button class="btn" :disabled="pin.length !== length || busy">{{ has ? 'Change it' : 'Set it' }}</button>
      <button v-if="has" type="button" class="btn btn-quiet px-1" :disabled="busy" @click="set('')">Take it away</button
      ><span class="note">The last digit plus 1 grants too, and calls for help silently.</span>
    </form>
    <p id="pin-problem" class="px-3.5 pb-2 font-semibold text-wine empty:hidden" role="alert">{{ problem }}</p>
  </section>
</template>
