<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useComputed } from '../../core/query'
import DeskCard from '../../domain/rule/DeskCard.vue'
import { useClearing } from '../../domain/rule/clearing'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import RulesTabs from './RulesTabs.vue'

const { clear, busy, problem } = useClearing()
const query = useComputed(
  'screenings now',
  () => [],
  (signal) => ask(api.GET('/api/screenings-now', { signal })),
)
const list = computed<Schemas['ScreeningNow'][] | undefined>(() => query.data.value)
const find = ref('')
const shown = (x: Schemas['ScreeningNow']) =>
  x.people.filter((p) => p.person.name.toLowerCase().includes(find.value.trim().toLowerCase()))
</script>

<template>
  <SheetFrame title="Screening" under="People who must be cleared before what they usually may counts">
    <template #actions><RouterLink class="btn btn-amber" to="/rules/screening/new">New screening</RouterLink></template>
    <RulesTabs />
    <StateBox
      v-if="!list"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <p v-else-if="!list.length" class="card p-3.5 text-[13.5px] text-ash">
      None yet. Where visitors or researchers must be seen by somebody first: until they are cleared only one level of
      theirs counts, or nothing.
    </p>
    <template v-else>
      <DeskCard v-if="list.some((x) => x.desks.length && !x.off)" class="mb-3" />
      <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
      <section v-for="x in list" :key="x.id" class="card mb-3" :aria-label="x.name">
        <div class="card-head">
          <h2>
            <RouterLink class="underline" :to="`/rules/screening/${x.id}`">{{ x.name }}</RouterLink>
          </h2>
          <span class="note">{{ x.off ? 'not in use' : `${x.cleared} of ${x.count} cleared` }}</span>
          <span v-if="x.logOnly" class="pill border border-seam px-1.5 text-[11.5px] text-ash">logging only</span>
          <input
            v-if="x.people.length > 8"
            v-model="find"
            class="field ml-auto w-44! py-0.5"
            type="search"
            placeholder="Find somebody"
            aria-label="Find somebody"
          />
        </div>
        <p class="px-3.5 py-2 text-[13.5px] leading-relaxed">{{ inClock(x.words) }}</p>
        <p v-for="w in x.wrong" :key="w" class="px-3.5 pb-2 text-[13px] font-semibold text-wine">{{ w }}</p>
        <template v-if="!x.off">
          <div v-for="p in shown(x)" :key="p.person.id" class="row gap-2 text-[13.5px]">
            <span class="min-w-0 flex-1"
              ><RouterLink class="underline" :to="`/people/${p.person.id}`">{{ p.person.name }}</RouterLink
              ><span class="note ml-2">{{ p.person.hint }}</span></span
            >
            <span class="text-right" :class="p.stands.cleared ? 'font-semibold text-kelp' : 'text-ash'">{{
              inClock(p.stands.words)
            }}</span>
            <button
              v-if="p.stands.cleared"
              type="button"
              class="btn btn-quiet w-44 px-1"
              :disabled="busy"
              :aria-label="`Withdraw: ${p.person.name}`"
              @click="clear(x.id, p.person.id, true)"
            >
              Withdraw</button
            ><button
              v-else
              type="button"
              class="btn w-44 px-1"
              :disabled="busy"
              :aria-label="`Clear ${inClock(p.stands.would)}: ${p.person.name}`"
              @click="clear(x.id, p.person.id)"
            >
              Clear {{ inClock(p.stands.would) }}
            </button>
          </div>
          <p v-if="x.count > x.people.length" class="note px-3.5 py-2">and {{ x.count - x.people.length }} more</p>
          <p v-if="!x.count" class="px-3.5 pb-2 text-[13px] text-ash">Nobody is under it yet.</p>
        </template>
      </section>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Whoever is cleared is so at every door at once; controllers that are cut off hear of it on their return.</p>
        <p>Members of a department who join later are screened with it.</p>
        <p><b>Withdraw</b> ends it at once. Otherwise it ends by itself, at the controllers.</p>
      </div>
    </template>
  </SheetFrame>
</template>
