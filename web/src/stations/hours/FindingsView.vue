<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import FindingCard from '../../ui/FindingCard.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { many } from '../../words'
import BuildTabs from '../build/BuildTabs.vue'
import PeopleTabs from '../people/PeopleTabs.vue'
import RulesTabs from '../rules/RulesTabs.vue'
import HoursTabs from './HoursTabs.vue'

/** The findings of a station: what is wrong, risky or incomplete there. */
const props = defineProps<{ station: 'build' | 'hours' | 'people' | 'rules' }>()

const query = useComputed(
  'findings',
  () => [],
  (signal) => ask(api.GET('/api/findings', { signal })),
)
const list = computed<Schemas['Finding'][] | undefined>(() =>
  query.data.value?.filter((f) => f.station === props.station),
)
const of = (severity: string) => (list.value ?? []).filter((f) => f.severity === severity)
/** More of one severity than this are counted and not drawn. */
const most = 60
const words = {
  build: {
    title: 'Build',
    in: 'in what is built',
    none: 'Nothing to find: everything answers, every lock gets its power, and everybody gets out.',
  },
  hours: {
    title: 'Hours',
    in: 'in the hours',
    none: 'Nothing to find: holidays are entered, plans answer them, and every schedule is used.',
  },
  rules: {
    title: 'Rules',
    in: 'about rules',
    none: 'Nothing to find: every rule can be met by somebody, and no interlock stands open by itself.',
  },
  people: {
    title: 'People',
    in: 'about people and what they hold',
    none: 'Nothing to find: everybody who has a card comes in somewhere, and every level leads somewhere and is used.',
  },
}
const groups = [
  ['wrong', 'Wrong'],
  ['risky', 'Risky'],
  ['untidy', 'Untidy'],
] as const
</script>

<template>
  <SheetFrame
    :title="words[station].title"
    :under="`Findings: what is wrong, risky or incomplete ${words[station].in}, with the mend`"
  >
    <BuildTabs v-if="station === 'build'" /><PeopleTabs v-else-if="station === 'people'" /><RulesTabs
      v-else-if="station === 'rules'"
    /><HoursTabs v-else />
    <StateBox
      v-if="!list"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="8"
    />
    <p v-else-if="!list.length" class="card p-4 text-ash">
      {{ words[station].none }}
    </p>
    <template v-for="[k, title] in groups" :key="k">
      <section v-if="of(k).length" class="mb-4" :aria-label="title">
        <h2 class="mb-1.5">
          {{ title }} <span class="note font-normal">{{ of(k).length }}</span>
        </h2>
        <div class="grid gap-2">
          <FindingCard v-for="f in of(k).slice(0, most)" :key="f.code + f.id" :finding="f" />
        </div>
        <p v-if="of(k).length > most" class="note mt-2">
          and {{ many(of(k).length - most, 'more', 'more') }}; they stand here as these are mended
        </p>
      </section>
    </template>
    <template #aside
      ><div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Wrong</b> never works as it stands.</p>
        <p><b>Risky</b> may open or close a door when nobody means it.</p>
        <p><b>Untidy</b> does no harm, and hides what does.</p>
        <p>What a click does can be turned back in History.</p>
      </div></template
    >
  </SheetFrame>
</template>
