<script setup lang="ts">
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import { copy } from '../../core/merge'
import { fetchObject, useComputed } from '../../core/query'
import { many } from '../../words'

/** What a holiday does on a date of it, else on its next: a saved one by its number, or one under edit. */
const props = defineProps<{ id?: number; holiday?: Schemas['Holiday']; date?: string }>()
const all = ref(false)
const under = useDebounce(
  computed(() => copy(props.holiday)),
  250,
)
const query = useComputed(
  'holiday effect',
  () => [props.id, props.date, under.value],
  async (signal) => {
    const body = under.value ?? (await fetchObject('holiday', props.id!, signal)).value
    return ask(api.POST('/api/holiday-effect', { params: { query: { date: props.date } }, body, signal }))
  },
  () => !!under.value || !!props.id,
)
const effect = computed<Schemas['HolidayEffect'] | undefined>(() => query.data.value)
const problem = computed(() => whatIsWrong(query.error.value))
</script>

<template>
  <p v-if="problem" class="note">{{ problem }}</p>
  <div v-else-if="effect" class="card text-[13px]" role="status" aria-label="What this holiday does">
    <p v-if="!effect.date" class="p-3 text-ash">It has no date to come in the next 13 months.</p>
    <template v-else>
      <p class="p-3 pb-2">
        <b>{{ effect.date }}</b><template v-if="!effect.doors.length && !effect.schedules.length"
          >: nothing changes; every plan and schedule runs as on the weekday.</template
        ><span v-if="effect.next.length" class="note block text-[12px]">then {{ effect.next.join(', ') }}</span>
      </p>
      <div v-if="effect.doors.length" class="border-t border-seam px-3 py-2">
        <p class="font-semibold">{{ many(effect.count, 'door changes', 'doors change') }}</p>
        <p v-for="d in effect.doors.slice(0, all ? 40 : 6)" :key="d.id" class="leading-snug">
          <RouterLink
            class="underline decoration-dotted underline-offset-3"
            :to="`/hours/doors/${d.id}?date=${effect.day}`"
            >{{ d.name }}</RouterLink
          >
          <span class="note text-[12px]">{{ d.words }}</span>
        </p>
        <button v-if="effect.doors.length > 6" class="note underline" @click="all = !all">
          {{ all ? 'fewer' : `and ${effect.count - 6} more` }}</button><span
          v-if="all && effect.count > effect.doors.length"
          class="note"
        >
          and {{ effect.count - effect.doors.length }} more</span
        >
      </div>
      <div v-if="effect.schedules.length" class="border-t border-seam px-3 py-2">
        <p class="font-semibold">{{ many(effect.schedules.length, 'schedule changes', 'schedules change') }}</p>
        <p v-for="s in effect.schedules" :key="s.id" class="leading-snug">
          <RouterLink class="underline decoration-dotted underline-offset-3" :to="`/hours/schedules/${s.id}`">{{
            s.name
          }}</RouterLink>
          <span :class="s.sign < 0 ? 'text-wine' : s.sign ? 'text-kelp' : 'text-ash'">{{ s.words }}</span>
        </p>
      </div>
      <p v-if="effect.lose || effect.gain" class="border-t border-seam px-3 py-2">
        <template v-if="effect.lose"
          ><b class="text-wine">{{ many(effect.lose, 'person loses', 'people lose') }}</b> hours that day<span
            class="note text-[12px]"
            >: {{ effect.losers.join(', ') }}{{ effect.lose > effect.losers.length ? ' …' : '' }}</span
          ></template
        ><template v-if="effect.lose && effect.gain">; </template
        ><template v-if="effect.gain"
          ><b class="text-kelp">{{ effect.gain }}</b> gain some</template
        >.
      </p>
      <p v-if="effect.running.length && effect.schedules.length" class="note border-t border-seam px-3 py-2">
        Running on: {{ effect.running.join(', ') }}.
      </p>
    </template>
  </div>
</template>
