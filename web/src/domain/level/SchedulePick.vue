<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** Chooses a schedule, and says what it means; one of a new name is made in place. */
const id = defineModel<number>({ required: true })
defineProps<{ label: string }>()
const query = useComputed(
  'hours of a schedule',
  () => [id.value],
  async (signal) => {
    const v = await ask(api.GET('/api/schedules/{id}', { params: { path: { id: id.value } }, signal }))
    return (await ask(api.POST('/api/hours/schedule', { body: { schedule: v.value, do: 'show' }, signal }))).text
  },
  () => id.value > 0,
)
async function make(name: string) {
  const week = Array.from({ length: 7 }, () => [])
  return (await ask(api.POST('/api/schedules', { body: { id: 0, name, week } }))).value.id
}
</script>

<template>
  <ObjectPicker v-model="id" kind="schedule" class="w-56" :label="label" :make="make" />
  <span v-if="id" class="min-w-0 truncate font-mono text-[12px] text-ash" :title="query.data.value"
    >{{ query.data.value === '' ? 'never open yet: ' : query.data.value
    }}<RouterLink v-if="query.data.value === ''" class="underline" :to="`/hours/schedules/${id}`"
      >paint its hours</RouterLink
    ></span
  >
</template>
