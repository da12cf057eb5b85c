<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import { dateOf, timeOf } from '../../words'

/** What would have followed from what has happened: a reaction is tried on the events of the last hours. */
const props = defineProps<{ reaction: Schemas['Reaction'] }>()
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const tried = ref<Schemas['TriedReaction']>()
watch(
  () => JSON.stringify(props.reaction),
  () => (tried.value = undefined),
)
const go = (hours: number) =>
  attempt(async () => {
    const reaction = { ...props.reaction, name: props.reaction.name || '-' }
    tried.value = await ask(api.POST('/api/rules/reaction-try', { body: { reaction, hours } }))
  })
</script>

<template>
  <section class="card" aria-label="What would have followed">
    <div class="card-head">
      <h2>What would have followed</h2>
      <span class="note">tried on what has happened; nothing is done</span>
    </div>
    <div class="flex flex-wrap items-center gap-2 px-3.5 py-2.5 text-[13.5px]">
      <button type="button" class="btn px-2.5 py-1" :disabled="busy" @click="go(24)">From the last 24 hours</button>
      <button type="button" class="btn px-2.5 py-1" :disabled="busy" @click="go(168)">From the last week</button>
      <span v-if="tried" class="font-semibold" role="status">{{ tried.words }}</span>
    </div>
    <p v-if="problem" role="alert" class="px-3.5 pb-2.5 font-semibold text-wine">{{ problem }}</p>
    <div v-if="tried?.followed.length" class="max-h-64 overflow-auto border-t border-seam">
      <p v-for="(f, i) in tried.followed" :key="i" class="row py-1 text-[13px]">
        <span class="font-mono text-[12px] whitespace-nowrap"
          >{{ dateOf(f.at, site.zone) }} {{ timeOf(f.at, site.zone) }}</span
        ><span class="min-w-0 flex-1">{{ f.event }}</span
        ><span class="min-w-0 flex-1 text-ash">{{ f.rests ? 'it would have rested' : f.does }}</span>
      </p>
    </div>
  </section>
</template>
