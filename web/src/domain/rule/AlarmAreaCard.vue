<script setup lang="ts">
import { DoorClosed, Radar } from '@lucide/vue'
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import AlarmPill from '../../ui/AlarmPill.vue'
import { useAttempt } from '../../ui/attempt'

/** An alarm area: what it is in, its doors and inputs, and arming and disarming by hand. */
const props = defineProps<{ area: Schemas['AlarmAreaNow'] }>()
const emit = defineEmits<{ done: [] }>()
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const now = useNow({ interval: 250 })
/** What is left of a delay, or of what sounds, in seconds. */
const left = computed(() => {
  const until = props.area.until
  return until ? Math.max(0, Math.ceil((until - now.value.getTime() - site.skew) / 1000)) : 0
})
const open = computed(() => props.area.members.filter((m) => m.open))
const without = ref<number[]>([])
/** Only what stands open now is left out. */
const leaves = computed(() => open.value.filter((m) => without.value.includes(m.id)))
const stopped = computed(() => open.value.length > leaves.value.length)
const order = (on: boolean) =>
  attempt(async () => {
    const params = { path: { id: props.area.id } }
    if (on) await ask(api.POST('/api/alarm-areas/{id}/arm', { params, body: { left: leaves.value.map((m) => m.id) } }))
    else await ask(api.POST('/api/alarm-areas/{id}/disarm', { params }))
    without.value = []
    emit('done')
  })
const said = (m: Schemas['AlarmMember']) => {
  if (m.raised) return 'raised the alarm'
  if (m.left) return m.open ? (m.input ? 'active, left out' : 'open, left out') : 'left out'
  if (m.open) return m.input ? 'active' : 'open'
  return props.area.state === 'unknown' ? '' : m.input ? 'at rest' : 'closed'
}
</script>

<template>
  <section class="card mb-3" :class="area.state === 'alarm' ? 'border-wine' : ''" :aria-label="area.name">
    <div class="card-head">
      <h2>
        <RouterLink class="underline" :to="`/rules/alarm-areas/${area.id}`">{{ area.name }}</RouterLink>
      </h2>
      <span class="note">at {{ area.controller }}</span>
    </div>
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1 px-3.5 pt-3" role="status">
      <AlarmPill :state="area.state" :called="area.called" :left="left" />
      <span class="text-[14px]">{{ area.words }}</span>
    </div>
    <ul class="flex flex-wrap gap-2 px-3.5 py-3">
      <li
        v-for="m in area.members"
        :key="m.id"
        class="flex items-center gap-2 rounded border px-2.5 py-1.5 text-[13px]"
        :class="
          m.raised
            ? 'border-wine bg-wine text-paper'
            : m.left
              ? 'border-dashed border-edge text-ash'
              : m.open
                ? 'border-wine text-wine'
                : 'border-seam'
        "
      >
        <component :is="m.input ? Radar : DoorClosed" class="size-4" aria-hidden="true" />
        <span
          ><b class="font-semibold">{{ m.name }}</b
          ><span v-if="m.onWay" class="note"> · on the way</span><br /><span class="text-[12px]">{{
            said(m)
          }}</span></span
        >
      </li>
    </ul>
    <p v-if="problem" role="alert" class="px-3.5 pb-2 font-semibold text-wine">{{ problem }}</p>
    <div v-if="!area.off && area.state !== 'unknown'" class="flex flex-wrap items-center gap-x-4 gap-y-2 px-3.5 pb-3">
      <button
        v-if="area.closed"
        type="button"
        class="btn px-3 py-1 font-semibold"
        :disabled="busy"
        @click="order(false)"
      >
        Disarm {{ area.name }}
      </button>
      <template v-else>
        <button type="button" class="btn px-3 py-1 font-semibold" :disabled="busy || stopped" @click="order(true)">
          Arm {{ area.name
          }}<template v-if="leaves.length"> without {{ leaves.map((m) => m.name).join(', ') }}</template>
        </button>
        <label v-for="m in open" :key="m.id" class="flex min-h-6 items-center gap-1.5 text-[13px] text-wine"
          ><input v-model="without" type="checkbox" :value="m.id" /> {{ m.name }}
          {{ m.input ? 'is active' : 'stands open' }}: leave it out</label
        >
      </template>
    </div>
    <details class="border-t border-seam px-3.5 py-2 text-[13.5px] leading-relaxed">
      <summary class="cursor-pointer text-ash">What it does</summary>
      <p class="mt-1.5">{{ area.meaning.arms }}</p>
      <p class="mt-1.5">{{ area.meaning.keeps }}</p>
      <p class="mt-1.5">{{ area.meaning.raises }}</p>
      <p v-for="w in area.meaning.wrong" :key="w" class="mt-1.5 font-semibold text-wine">{{ w }}</p>
    </details>
  </section>
</template>
