<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import CalloutList from '../../domain/rule/CalloutList.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { dateOf, timeOf } from '../../words'
import RulesTabs from './RulesTabs.vue'

/** All reactions as sentences, and what they wrote, marked and called. */
const site = useSite()
const query = useComputed(
  'reactions in words',
  () => [],
  (signal) => ask(api.GET('/api/reactions-in-words', { signal })),
)
const rows = computed(() => query.data.value)
const lines = useComputed(
  'lines',
  () => [],
  (signal) => ask(api.GET('/api/lines', { signal })),
)
const when = (at: number) => `${dateOf(at, site.zone)} ${timeOf(at, site.zone)}`
</script>

<template>
  <SheetFrame title="Reactions" under="When this happens here, during these hours, do that there, for so long">
    <template #actions><RouterLink class="btn btn-amber" to="/rules/reactions/new">New reaction</RouterLink></template>
    <RulesTabs />
    <StateBox
      v-if="!rows"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <section v-else class="card mb-3" aria-label="Reactions">
      <p v-if="!rows.length" class="p-3.5 text-[13.5px] text-ash">
        None yet. A door that is held open sounds a siren until it closes; water on a floor writes to the keeper.
      </p>
      <article v-for="r in rows" :key="r.id" class="row items-start py-2" :class="r.off ? 'text-ash' : ''">
        <div class="min-w-0 flex-1">
          <RouterLink class="font-semibold underline" :to="`/rules/reactions/${r.id}`">{{ r.name }}</RouterLink>
          <span v-if="r.off" class="pill ml-2 border border-seam">not in use</span>
          <p class="mt-0.5 text-[13.5px] leading-relaxed">{{ r.words }}</p>
          <p class="text-[12.5px]" :class="r.alone ? 'text-kelp' : 'text-ash'">{{ r.needs }}</p>
        </div>
      </article>
    </section>
    <section class="card mb-3" aria-label="Mailbox and recordings">
      <div class="card-head">
        <h2>Mailbox and recordings</h2>
        <span class="note">stand-ins: nothing leaves this machine</span>
      </div>
      <p v-if="!lines.data.value?.length" class="p-3.5 text-[13.5px] text-ash">
        Nothing yet. What reactions write to the mailbox or mark in a recording stands here.
      </p>
      <div v-else class="max-h-72 overflow-auto">
        <p v-for="l in lines.data.value" :key="l.id" class="row py-1.5 text-[13px]">
          <span class="font-mono text-[12px] whitespace-nowrap">{{ when(l.at) }}</span><span
            class="w-40 truncate"
            :title="l.whom"
            >{{ l.kind === 'camera' ? 'camera ' : '' }}{{ l.whom }}</span
          ><span class="min-w-0 flex-1">{{ l.words }}</span
          ><span class="note text-[12px]">{{ l.reaction }}</span>
        </p>
      </div>
    </section>
    <CalloutList />
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>A reaction is read as its sentence. In green: it works with the server down.</p>
        <p>Each can be tried on what has happened: open it, and see what would have followed from the last 24 hours.</p>
      </div>
    </template>
  </SheetFrame>
</template>
