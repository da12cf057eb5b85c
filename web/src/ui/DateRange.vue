<script setup lang="ts">
import { computed, ref, useId } from 'vue'
import { wordedDay } from '../dates'
import DateField from './DateField.vue'
import TimeField from './TimeField.vue'

/** From a first minute through a last day, or until a time of day; folded away while there are no dates. */
const from = defineModel<string | undefined>('from')
const until = defineModel<string | undefined>('until')
const props = defineProps<{ what: string; problem?: string }>()
const open = ref(!!from.value || !!until.value)
const timed = ref(!!(from.value?.includes('T') || until.value?.includes('T')))
const id = useId()

/** The day and the time of a bound, each to be changed by itself; without a day there is no time. */
const part = (of: typeof from) => ({
  day: computed({
    get: () => of.value?.split('T')[0],
    set: (d) => (of.value = d ? (of.value?.includes('T') ? `${d}T${of.value.split('T')[1]}` : d) : undefined),
  }),
  time: computed({
    get: () => of.value?.split('T')[1] ?? '',
    set: (t) => (of.value = of.value && t ? `${of.value.split('T')[0]}T${t}` : of.value?.split('T')[0]),
  }),
})
const { day: fromDay, time: fromTime } = part(from)
const { day: untilDay, time: untilTime } = part(until)
const last = computed(() => {
  const words = wordedDay(untilDay.value ?? '')
  return words && `until ${words}, ${untilTime.value || '23:59'}`
})
</script>

<template>
  <span v-if="open" class="flex flex-wrap items-center gap-1.5 text-[13px]">
    <span class="text-ash">from</span
    ><DateField
      v-model="fromDay"
      :label="`${what} from`"
      :invalid="!!problem"
      :describedby="problem ? id : undefined"
    /><TimeField v-if="timed" v-model="fromTime" :label="`${what} from, time of day`" />
    <span class="text-ash">until</span
    ><DateField
      v-model="untilDay"
      :label="`${what} until`"
      :invalid="!!problem"
      :describedby="problem ? id : undefined"
    /><TimeField v-if="timed" v-model="untilTime" :label="`${what} until, time of day`" />
    <button
      v-if="!timed"
      type="button"
      class="btn btn-quiet px-1 py-0 text-[12px]"
      :aria-label="`with times. Give ${props.what} a time of day`"
      @click="timed = true"
    >
      with times
    </button>
    <span v-if="problem" :id="id" class="text-[12px] font-semibold text-wine">{{ problem }}</span><span
      v-else-if="last"
      class="note text-[12px]"
      >{{ last }}</span
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
