<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { dateOf, many, timeOf } from '../../words'

/** What one controller lacks, in words. */
const props = defineProps<{
  pending: Schemas['Pending']
  impact?: Schemas['ControllerImpact']
  busy: boolean
  zone: string
}>()
defineEmits<{ send: []; cancel: [] }>()
const p = computed(() => props.pending)
const all = ref(false)
</script>

<template>
  <section class="card mb-3" :aria-label="p.name">
    <div class="card-head">
      <h2 class="flex items-center gap-2.5">
        <span class="size-2.5 rounded-full" :class="p.online ? 'bg-kelp' : 'border-2 border-wine'" />{{ p.name }}
      </h2>
      <span class="note flex items-center gap-3">
        <template v-if="p.sending"
          ><progress class="h-2 w-32 accent-kelp" :max="p.sending.size || 1" :value="p.sending.sent" /> sending
          <button class="btn px-2 py-0.5" @click="$emit('cancel')">Cancel</button></template
        >
        <template v-else-if="!p.changes.length"
          ><b class="text-kelp">up to date</b> since {{ dateOf(p.sentAt, zone) }} {{ timeOf(p.sentAt, zone) }} ·
          <span class="font-mono" :title="`SHA-256 ${p.hash}`">{{ p.hash.slice(0, 8) }}</span></template
        >
        <template v-else-if="p.wanted"
          >off the network: sent on its return
          <button class="btn px-2 py-0.5" @click="$emit('cancel')">Do not</button></template
        >
        <template v-else
          ><template v-if="!p.online"><b class="text-wine">off the network</b></template>
          {{ many(p.changes.length, 'change', 'changes') }}
          <button class="btn px-2 py-0.5" :disabled="busy" @click="$emit('send')">
            {{ p.online ? 'Send' : 'Send on its return' }}
          </button></template
        >
      </span>
    </div>
    <p v-if="p.refused" class="px-3.5 pt-2 font-semibold text-wine">Cannot be sent: {{ p.refused }}.</p>
    <p v-if="p.drifted" class="px-3.5 pt-2 text-[13px] text-wine">
      It holds something else than was sent to it, so everything is sent anew.
    </p>
    <p v-if="p.failed && p.lacks" class="px-3.5 pt-2 text-[13px] font-semibold text-wine">
      The last send did not end: {{ p.failed }}. It goes on with what it held.
    </p>
    <p v-if="impact" class="px-3.5 pt-2 text-[13.5px]">
      <b>{{ inClock(impact.sentence) }}</b>
      <span
        v-for="l in impact.lines"
        :key="l.words"
        class="block"
        :class="l.sign > 0 ? 'text-kelp' : l.sign < 0 ? 'text-wine' : ''"
        >{{ inClock(l.words) }}</span
      >
      <span v-if="impact.doors.length" class="note block"
        >{{ many(impact.doors.length, 'door asks', 'doors ask') }} something else:
        {{
          impact.doors
            .slice(0, 6)
            .map((d) => d.name)
            .join(', ')
        }}{{ impact.doors.length > 6 ? ' …' : '' }}</span
      >
    </p>
    <ul v-if="p.changes.length" class="px-3.5 py-2 text-[13px]">
      <li v-for="(c, i) in all ? p.changes : p.changes.slice(0, 8)" :key="i" class="flex gap-3 py-0.5">
        <span class="note w-20 shrink-0">{{ c.kind }}</span>{{ c.words }}
      </li>
      <li v-if="p.changes.length > 8 && !all">
        <button class="underline" @click="all = true">and {{ p.changes.length - 8 }} more</button>
      </li>
    </ul>
  </section>
</template>
