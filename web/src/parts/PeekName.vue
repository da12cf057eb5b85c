<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../api/client'
import { placePath } from '../router'
import { useSite } from '../site'

/** A name that tells in place what it means. */
const props = defineProps<{ kind: 'level' | 'schedule' | 'plan' | 'door'; id: number; name: string }>()
const site = useSite()
const lines = ref<string[]>()

async function look() {
  const path = { path: { id: props.id } }
  if (props.kind === 'level') {
    const l = (await ask(api.GET('/api/levels/{id}', { params: path }))).value
    lines.value = [...(l.opensDay ? ['opens the day'] : []), ...l.entries.map((e) => site.doorName(e.doorId))]
  } else if (props.kind === 'door') {
    const s = await ask(api.GET('/api/doors/{id}/sheet', { params: path }))
    lines.value = [s.sentence.replaceAll('**', ''), ...s.findings.map((f) => f.words)]
  } else if (props.kind === 'schedule') {
    const s = (await ask(api.GET('/api/schedules/{id}', { params: path }))).value
    lines.value = (await ask(api.POST('/api/hours/schedule', { body: { schedule: s, do: 'show' } }))).text.split('; ')
  } else {
    const p = (await ask(api.GET('/api/plans/{id}', { params: path }))).value
    const t = await ask(api.POST('/api/hours/plan', { body: { plan: p, do: 'show' } }))
    lines.value = [...t.text.split(/[,;] (?=[A-Z])/).filter(Boolean), `otherwise ${p.default}`]
  }
}
</script>

<template>
  <Popover as="span" class="relative">
    <PopoverButton class="text-left underline decoration-dotted underline-offset-3" :title="`What ${name} means`" @click="look">{{ name }}</PopoverButton>
    <PopoverPanel class="absolute left-0 z-20 mt-1 w-56 rounded-lg border border-seam bg-paper p-3 text-[13px] font-normal text-ink shadow-lg">
      <p class="mb-1 font-bold">{{ name }} <span class="note font-normal">{{ kind }}</span></p>
      <p v-if="lines && !lines.length" class="text-ash">{{ kind === 'level' ? 'Opens no door.' : 'Nothing.' }}</p>
      <p v-for="l in lines?.slice(0, 12)" :key="l" class="py-px" :class="kind === 'level' || kind === 'door' ? '' : 'font-mono text-[12px]'">{{ l }}</p>
      <p v-if="lines && lines.length > 12" class="note">and {{ lines.length - 12 }} more</p>
      <RouterLink class="mt-1 inline-block underline" :to="placePath(kind, id, '/hours')">Open it</RouterLink>
    </PopoverPanel>
  </Popover>
</template>
