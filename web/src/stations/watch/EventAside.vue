<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { Schemas } from '../../api/client'
import { inClock } from '../../clock'
import GiveCard from '../../domain/person/GiveCard.vue'
import PeekName from '../../ui/PeekName.vue'
import TraceList from '../../ui/TraceList.vue'
import { dateOf, timeOf } from '../../words'

/** One event in full: what, where, who, which checks were made, and what would have to change. */
const props = defineProps<{ event: Schemas['Event'] }>()
const router = useRouter()
const trace = computed(() => JSON.parse(props.event.trace) as Schemas['Line'][])
</script>

<template>
  <div
    class="rounded-lg p-3.5"
    :class="
      event.outcome === 'refused' || event.outcome === 'alarm'
        ? 'bg-wine text-paper'
        : event.outcome === 'granted'
          ? 'bg-kelp text-paper'
          : 'border border-seam bg-paper'
    "
  >
    <p class="text-[15px] font-bold">{{ event.headline }}</p>
    <p v-if="event.detail">{{ inClock(event.detail) }}</p>
  </div>
  <div class="card text-[13px]">
    <p class="row">
      <span class="w-16 text-ash">Door</span
      ><PeekName v-if="event.doorId" :id="event.doorId" kind="door" :name="event.door" /><template v-else>—</template>
    </p>
    <p class="row">
      <span class="w-16 text-ash">Person</span
      ><PeekName v-if="event.personId" :id="event.personId" kind="person" :name="event.person" /><template v-else>{{
        event.person || '—'
      }}</template>
    </p>
    <p class="row">
      <span class="w-16 text-ash">When</span>{{ dateOf(event.at, event.zone) }}
      {{ timeOf(event.at, event.zone) }}
    </p>
    <p class="row"><span class="w-16 text-ash">From</span>{{ event.controller }}, no. {{ event.seq }}</p>
  </div>
  <template v-if="trace.length"
    ><h2>Why</h2>
    <TraceList :lines="trace"
  /></template>
  <template v-if="event.mend"
    ><h2>What would change it</h2>
    <p class="card p-3 text-[13px] leading-relaxed">{{ inClock(event.mend) }}</p></template
  >
  <GiveCard
    v-if="event.reason === 'card-unknown' && event.value && event.format"
    :format="event.format"
    :value="event.value"
  />
  <p class="flex flex-wrap gap-2">
    <RouterLink v-if="event.bits" class="btn" :to="`/build/formats?bits=${event.bits}`">Open its bits</RouterLink>
    <button v-if="event.doorId" class="btn" @click="router.push(`/watch?door=${event.doorId}`)">Only this door</button
    ><button v-if="event.personId" class="btn" @click="router.push(`/watch?person=${event.personId}`)">
      Only this person
    </button>
  </p>
</template>
