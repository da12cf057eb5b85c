<script setup lang="ts">
import { ref, useId } from 'vue'
import { wordedDay } from '../dates'
import DateField from './DateField.vue'

/** From a first minute through a last day; folded away while there are no dates. */
const from = defineModel<string | undefined>('from')
const until = defineModel<string | undefined>('until')
defineProps<{ what: string; problem?: string }>()
const open = ref(!!from.value || !!until.value)
const id = useId()
</script>

<template>
  <span v-if="open" class="flex flex-wrap items-center gap-1.5 text-[13px]">
    <span class="text-ash">from</span
    ><DateField v-model="from" :label="`${what} from`" :invalid="!!problem" :describedby="problem ? id : undefined" />
    <span class="text-ash">until</span
    ><DateField v-model="until" :label="`${what} until`" :invalid="!!problem" :describedby="problem ? id : undefined" />
    <span v-if="problem" :id="id" class="text-[12px] font-semibold text-wine">{{ problem }}</span><span
      v-else-if="wordedDay(until ?? '')"
      class="note text-[12px]"
      >through {{ wordedDay(until ?? '') }}, 23:59</span
    >
  </span>
  <button
    v-else
    type="button"
    class="btn btn-quiet px-1 py-0 text-[13px]"
    :aria-label="`at all dates. Limit ${what} to dates`"
    @click="open = true"
  >
    at all dates
  </button>
</template>
