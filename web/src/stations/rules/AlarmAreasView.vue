<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { listen } from '../../core/live'
import { useComputed } from '../../core/query'
import AlarmAreaCard from '../../domain/rule/AlarmAreaCard.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import RulesTabs from './RulesTabs.vue'

/** The alarm areas, what each is in now, and arming and disarming by hand. */
const query = useComputed(
  'alarm areas now',
  () => [],
  (signal) => ask(api.GET('/api/alarm-areas-now', { signal })),
)
const list = computed<Schemas['AlarmAreaNow'][] | undefined>(() => query.data.value)
/** Whatever moves may be a door or an input of one. */
const again = useDebounceFn(() => query.refetch(), 200, { maxWait: 1000 })
onScopeDispose(listen((n) => (n.type === 'event' || n.type === 'state') && void again()))
</script>

<template>
  <SheetFrame title="Alarm areas" under="Doors and inputs that are watched together while nobody is to be there">
    <template #actions
      ><RouterLink class="btn btn-amber" to="/rules/alarm-areas/new">New alarm area</RouterLink></template
    >
    <RulesTabs />
    <StateBox
      v-if="!list"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <p v-else-if="!list.length" class="card p-3.5 text-[13.5px] text-ash">
      None yet. A shop is armed by two reads at its shutter when it closes; from then on only those come in who may
      disarm it, and what moves there sounds a siren.
    </p>
    <AlarmAreaCard v-for="x in list ?? []" :key="x.id" :area="x" @done="query.refetch()" />
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>
          <b>Armed</b>: only those come in who may disarm, and what moves raises the alarm. Whoever is inside gets out.
        </p>
        <p>What stands open prevents arming. It can be left out on purpose, and is watched again once disarmed.</p>
        <p>
          Who arms and who disarms by card is said by access levels. Each area is kept by its controller, with the
          server down too.
        </p>
        <p class="text-ash">It stands in for an intrusion panel: it calls no alarm receiving centre.</p>
      </div>
    </template>
  </SheetFrame>
</template>
