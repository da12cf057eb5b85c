<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask } from '../../api/client'
import { client, fetchObject, keys } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { sure } from '../../ui/sure'

/** Gives an unknown card to somebody from where it was seen, or puts it into the box. */
const props = defineProps<{ format: string; value: string }>()
const { attempt, busy, problem } = useAttempt()
const said = ref('')
watch(
  () => props.value,
  () => (said.value = ''),
)
const card = () => ({ kind: 'card' as const, format: props.format, value: props.value, status: 'active' as const })
const give = (id: number) =>
  attempt(async () => {
    const { rev, value } = await fetchObject('person', id)
    value.credentials.push(card())
    const e = await ask(api.POST('/api/hours/effect', { body: { person: value } }))
    if (!(await sure(`Give card ${props.value} to ${value.name}?`, `${e.sentence} It works once sent.`, 'Give it')))
      return
    client.setQueryData(
      keys.object('person', id),
      await ask(api.PUT('/api/people/{id}', { params: { path: { id } }, body: { rev, value } })),
    )
    said.value = `${value.name} has it; it works once sent.`
  })
const box = () =>
  attempt(async () => {
    await ask(api.POST('/api/free-cards', { body: { id: 0, ...card() } }))
    said.value = 'It lies with the free cards.'
  })
</script>

<template>
  <h2>Whose card is it?</h2>
  <div class="card space-y-2 p-3 text-[13px]">
    <p v-if="said" role="status" class="font-semibold text-kelp">{{ said }}</p>
    <template v-else>
      <ObjectPicker
        :model-value="0"
        kind="person"
        label="Give this card to"
        placeholder="Give it to …"
        :disabled="busy"
        @chosen="(id: number) => id && give(id)"
      />
      <button class="btn px-2 py-0.5" :disabled="busy" @click="box">Put it with the free cards</button>
    </template>
    <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
  </div>
</template>
