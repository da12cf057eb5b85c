<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '../../api/client'
import { useNames } from '../../core/names'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'

/** The departments that somebody is in. */
const ids = defineModel<number[]>({ required: true })
defineProps<{ number?: string }>()
const { nameOf } = useNames(() => ids.value)
const adding = ref(false)
function add(id: number) {
  if (id && !ids.value.includes(id)) ids.value = [...ids.value, id]
  adding.value = false
}
const make = async (name: string) =>
  (await ask(api.POST('/api/departments', { body: { id: 0, name, levels: [] } }))).value.id
</script>

<template>
  <div class="mt-0.5 flex flex-wrap items-center gap-x-2 gap-y-1 text-[13.5px] text-ash">
    <span v-if="number">no. {{ number }}</span>
    <span v-for="id in ids" :key="id" class="inline-flex shrink-0 items-center"
      ><PeekName :id="id" kind="department" :name="nameOf(id)" /><button
        type="button"
        class="btn btn-quiet grid size-[24px] place-items-center p-0 text-ash"
        :aria-label="`Out of ${nameOf(id)}`"
        @click="ids = ids.filter((x) => x !== id)"
      >
        ×
      </button></span
    >
    <ObjectPicker
      v-if="adding"
      :model-value="0"
      kind="department"
      class="w-48"
      label="Department"
      placeholder="Find or name a department"
      :leave-out="ids"
      :make="make"
      @chosen="add"
    />
    <button
      v-else
      type="button"
      class="btn btn-quiet min-h-[24px] min-w-[24px] px-1 py-0"
      :aria-label="ids.length ? 'and in …' : undefined"
      :title="ids.length ? 'In another department too' : ''"
      @click="adding = true"
    >
      {{ ids.length ? '+' : 'in no department; choose one' }}
    </button>
  </div>
</template>
