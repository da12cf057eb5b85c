<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import PickList from '../../ui/PickList.vue'

/** The inputs of an alarm area, and which of them lie on the way in and out. */
defineProps<{ problem?: string }>()
const inputs = defineModel<Schemas['Watched'][]>({ required: true })
const said = (id: number) => inputs.value.find((w) => w.inputId === id) ?? { inputId: id }
const ids = computed({
  get: () => inputs.value.map((w) => w.inputId),
  set: (list: number[]) => (inputs.value = list.map(said)),
})
const turn = (id: number, onWay: boolean) =>
  (inputs.value = inputs.value.map((w) => (w.inputId === id ? { inputId: id, ...(onWay ? { onWay } : {}) } : w)))
</script>

<template>
  <PickList
    v-slot="{ id, called }"
    v-model="ids"
    kind="input"
    title="Inputs"
    note="motion detectors, glass break, windows"
    none="No input yet."
    add="Choose an input"
    :problem="problem"
  >
    <label class="flex min-h-6 items-center gap-1.5 text-[13px]"
      ><input
        type="checkbox"
        :checked="said(id).onWay ?? false"
        @change="turn(id, ($event.target as HTMLInputElement).checked)"
      />
      on the way<span class="sr-only"> in and out: {{ called }}</span></label
    >
  </PickList>
</template>
