<script setup lang="ts">
import { reactive } from 'vue'
import { api, ask } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** People, or free cards, with a range of card numbers. */
const emit = defineEmits<{ said: [words: string] }>()
const { attempt, busy, problem } = useAttempt()
const b = reactive({
  pattern: 'Visitor ##',
  first: 1,
  format: '26-bit',
  facility: 42,
  number: 0,
  count: 10,
  free: false,
  departmentId: 0,
})
const add = () =>
  attempt(async () => {
    const body = { ...b, departmentId: b.departmentId || undefined }
    emit('said', (await ask(api.POST('/api/import/batch', { body }))).words)
  })
</script>

<template>
  <h2>A range of numbers</h2>
  <form class="card space-y-2 p-3 text-[13px]" @submit.prevent="add">
    <label class="block"
      >First card number<input v-model.number="b.number" type="number" min="0" class="field py-1 font-mono"
    /></label>
    <div class="flex gap-2">
      <label class="block flex-1"
        >Facility<input v-model.number="b.facility" type="number" min="0" class="field py-1 font-mono"
      /></label>
      <label class="block flex-1"
        >How many<input v-model.number="b.count" type="number" min="1" max="5000" class="field py-1 font-mono"
      /></label>
    </div>
    <label class="flex items-center gap-1.5"
      ><input v-model="b.free" type="checkbox" /> into the box, without people</label
    >
    <template v-if="!b.free">
      <label class="block">Names, # is the count<input v-model="b.pattern" class="field py-1" maxlength="80" /></label>
      <ObjectPicker
        v-model="b.departmentId"
        kind="department"
        label="Department of the new people"
        :besides="[{ id: 0, name: 'no department' }]"
      />
    </template>
    <button class="btn" :disabled="busy || !b.number">Add them</button>
    <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
  </form>
</template>
