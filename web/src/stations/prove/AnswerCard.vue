<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import { clock24, inClock } from '../../clock'
import HourBar from '../../domain/access/HourBar.vue'
import PeekName from '../../ui/PeekName.vue'
import StrongText from '../../ui/StrongText.vue'
import TraceList from '../../ui/TraceList.vue'
import { many } from '../../words'

/** The answer to a question: a decision with its trace, or a list. */
const props = defineProps<{ answer: Schemas['Answered'] }>()
/** Where they go is asked of a moment, or of a day or more with all its hours. */
const span = computed(() => props.answer.from !== props.answer.to && props.answer.when !== 'now')
const sentence = computed(() => {
  const w = props.answer.where
  if (!w) return ''
  if (props.answer.when === 'now') return w.sentence
  const open = w.doors.filter((d) => (span.value ? d.open.length : d.now)).length
  const doors = `**${many(open, 'door', 'doors')}**`
  return span.value ? `Comes in through ${doors} on ${w.words}, at these hours.` : `Comes in through ${doors} then.`
})
const hours = (d: Schemas['WhereDoor']) =>
  d.open.map((p) => `${clock24(p.start)}–${clock24(p.end)}${p.free ? ' free' : ''}`).join(', ') || 'not on this day'
</script>

<template>
  <div v-if="answer.may" class="grid grid-cols-2 gap-3 border-t border-seam p-3.5 max-md:grid-cols-1" role="status">
    <div>
      <p class="text-[16px] font-bold" :class="answer.may.granted ? 'text-kelp' : 'text-wine'">
        {{ inClock(answer.may.words) }}
      </p>
      <p class="note">
        with {{ answer.may.with }}; the door asks for {{ answer.may.mode }}{{ answer.when === 'now' ? ' now' : '' }}
      </p>
      <p v-if="answer.may.mend" class="mt-2 text-[13px] leading-relaxed">{{ inClock(answer.may.mend) }}</p>
      <p class="mt-2 flex gap-2 text-[13px]">
        <RouterLink class="underline" :to="`/people/${answer.person}`">{{
          answer.peopleNamed[0]?.name ?? 'The person'
        }}</RouterLink>
        <RouterLink class="underline" :to="`/prove/${answer.door}`">Play it at the bench</RouterLink>
      </p>
    </div>
    <TraceList :lines="answer.may.trace" />
    <ul v-if="answer.may.floors?.length" class="col-span-full max-h-72 overflow-auto text-[13.5px]" aria-label="Floors">
      <li
        v-for="f in [...answer.may.floors].reverse()"
        :key="f.floorId"
        class="grid grid-cols-[18px_minmax(0,1fr)_minmax(0,2fr)] gap-2 border-t border-seam py-1"
      >
        <span
          :class="f.reached ? 'font-bold text-kelp' : 'text-wine'"
          :aria-label="f.reached ? 'reached' : 'not reached'"
          >{{ f.reached ? '✓' : '✕' }}</span><b class="truncate">{{ f.floor }}</b
        ><span class="text-ash">{{ inClock(f.words) }}</span>
      </li>
    </ul>
  </div>
  <div v-else-if="answer.who" class="border-t border-seam p-3.5 text-[13.5px]" role="status">
    <p class="text-[16px] font-bold">
      <template v-if="answer.who.free">The door is free: everybody. </template
      >{{ answer.who.count ? `${many(answer.who.count, 'person', 'people')} with access` : 'Nobody has access then' }}
    </p>
    <ul class="mt-2 columns-3 gap-4 max-xl:columns-2">
      <li v-for="p in answer.who.list" :key="p.id" class="break-inside-avoid py-0.5">
        <PeekName :id="p.id" kind="person" :name="p.name" /> <span class="note text-[12px]">{{ p.hint }}</span>
      </li>
    </ul>
    <p v-if="answer.who.count > answer.who.list.length" class="note">
      and {{ many(answer.who.count - answer.who.list.length, 'more', 'more') }}
    </p>
  </div>
  <div v-else-if="answer.where" class="border-t border-seam p-3.5 text-[13.5px]" role="status">
    <p class="text-[15px]"><StrongText :text="inClock(sentence)" /></p>
    <div
      v-for="d in answer.where.doors"
      :key="d.id"
      class="grid grid-cols-[minmax(0,1.2fr)_104px_minmax(0,1fr)] items-center gap-3 py-0.5"
    >
      <RouterLink class="truncate hover:underline" :to="`/hours/doors/${d.id}`"
        >{{ d.name }} <span class="note">{{ d.floor }}</span></RouterLink
      >
      <HourBar :pieces="d.open" :minute="d.minute" :label="`${d.name} on ${answer.where.words}`" />
      <span v-if="span" class="text-[12.5px]" :class="d.open.length ? 'font-semibold text-kelp' : 'text-ash'">{{
        inClock(hours(d))
      }}</span>
      <span v-else class="text-[12.5px]" :class="d.now ? 'font-semibold text-kelp' : 'text-ash'"
        >{{ d.now ? 'yes' : 'no' }} <span class="note font-normal">{{ inClock(d.next) }}</span></span
      >
    </div>
  </div>
  <div
    v-else-if="answer.kind === 'when' && answer.person && answer.door"
    class="border-t border-seam p-3.5 text-[13.5px]"
    role="status"
  >
    <p v-if="!answer.whenOpen.length" class="text-[16px] font-bold text-wine">At no time.</p>
    <ul class="columns-2 gap-4">
      <li v-for="w in answer.whenOpen" :key="w.from" class="py-0.5 font-semibold text-kelp">{{ inClock(w.words) }}</li>
    </ul>
  </div>
</template>
