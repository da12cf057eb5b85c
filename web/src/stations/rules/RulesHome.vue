<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import RuleGroup from './RuleGroup.vue'
import RulesTabs from './RulesTabs.vue'

const query = useComputed(
  'rules',
  () => [],
  (signal) => ask(api.GET('/api/rules', { signal })),
)
const rules = computed<Schemas['RulesOverview'] | undefined>(() => query.data.value)
</script>

<template>
  <SheetFrame title="Rules" under="What must hold besides a plan and a level, each as a sentence">
    <RulesTabs />
    <StateBox
      v-if="!rules"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="8"
    />
    <template v-else>
      <RuleGroup
        title="Lockdown and fire release"
        :rows="rules.emergencies"
        :to="(r) => `/rules/emergencies/${r.id}`"
        none="None. Doors that let nobody in, or stand free for escape, until somebody ends it."
        :add="{ name: 'New emergency', to: '/rules/emergencies/new' }"
      />
      <RuleGroup
        title="Screening"
        :rows="rules.screenings"
        :to="(r) => `/rules/screening/${r.id}`"
        none="None. Visitors or researchers who must be cleared before what they usually may counts."
        :add="{ name: 'New screening', to: '/rules/screening/new' }"
      />
      <RuleGroup
        title="Several people or several proofs"
        :rows="rules.proofs"
        :to="(r) => `/rules/proofs/${r.id}`"
        none="None. Where one card is not enough: two people of chosen groups, somebody who approves, or a card and a PIN."
        :add="{ name: 'New rule', to: '/rules/proofs/new' }"
      />
      <RuleGroup
        title="Groups"
        :rows="rules.groups"
        :to="(r) => `/rules/groups/${r.id}`"
        none="None. A group is who fills a part: registrars, conservators, duty managers."
        :add="{ name: 'New group', to: '/rules/groups/new' }"
      />
      <RuleGroup
        title="Interlocks"
        :rows="rules.interlocks"
        :to="(r) => `/rules/interlocks/${r.id}`"
        none="None. Doors of which at most one is open at a time, as of an airlock."
        :add="{ name: 'New interlock', to: '/rules/interlocks/new' }"
      />
      <RuleGroup
        title="Areas"
        :rows="rules.areas"
        :to="(r) => `/rules/areas/${r.id}`"
        none="None. Rooms that know who is inside: nobody comes in twice, or one too many, or alone."
        :add="{ name: 'New area', to: '/rules/areas/new' }"
      />
      <RuleGroup
        title="Alarm areas"
        :rows="rules.alarmAreas"
        :to="(r) => `/rules/alarm-areas/${r.id}`"
        none="None. Doors and inputs that are watched while nobody is to be there; what moves sounds a siren."
        :add="{ name: 'New alarm area', to: '/rules/alarm-areas/new' }"
      />
      <RuleGroup
        title="Reactions"
        :rows="rules.reactions"
        :to="(r) => `/rules/reactions/${r.id}`"
        none="None. When this happens here, that is done there: a door that is held open sounds a siren."
        :add="{ name: 'New reaction', to: '/rules/reactions/new' }"
      />
      <RuleGroup
        title="Card toggles"
        :rows="rules.toggles"
        :to="(r) => `/rules/doors/${r.id}`"
        none="None. Choose a door on the left: two reads in a row by somebody who may set it free, or end that."
      />
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>A plan says what a door asks, a level who may come in. These rules say what else must hold.</p>
        <p>Choose a door on the left: its rules stand there in the order in which they are checked.</p>
        <p>Exit requests and fire release come before all of them.</p>
      </div>
    </template>
  </SheetFrame>
</template>
