<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { client, useComputed } from '../../core/query'
import AreaMap from '../../domain/rule/AreaMap.vue'
import { useAttempt } from '../../ui/attempt'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { sure } from '../../ui/sure'
import { many } from '../../words'
import RulesTabs from './RulesTabs.vue'

const { attempt, busy, problem } = useAttempt()
const moving = ref(0) // who is being put into another area
const query = useComputed(
  'areas now',
  () => [],
  (signal) => ask(api.GET('/api/areas-now', { signal })),
)
const areas = computed<Schemas['AreaNow'][] | undefined>(() => query.data.value)
const move = (body: Schemas['Elsewhere']) =>
  attempt(async () => {
    await ask(api.POST('/api/areas-now', { body }))
    await client.invalidateQueries({ queryKey: ['computed'] })
  })
async function forgiveAll(a?: Schemas['AreaNow']) {
  const whom = a ? `${many(a.inside, 'person', 'people')} in ${a.name}` : 'everybody'
  if (await sure(`Forgive ${whom}?`, 'Where they are is unknown then: each may go anywhere once.', 'Forgive'))
    await move(a ? { of: a.id } : {})
}
</script>

<template>
  <SheetFrame title="Areas" under="Rooms that readers lead into and out of, and who is where now">
    <template #actions
      ><button v-if="areas?.some((a) => a.inside)" class="btn" :disabled="busy" @click="forgiveAll()">
        Forgive everybody</button
      ><RouterLink class="btn btn-amber" to="/rules/areas/new">New area</RouterLink></template
    >
    <RulesTabs />
    <StateBox
      v-if="!areas"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="() => query.refetch()"
      :rows="6"
    />
    <p v-else-if="!areas.length" class="card p-3.5 text-[13.5px] text-ash">
      None yet. An area knows who is inside: nobody comes in twice without leaving, or one too many, or alone. Name one,
      then say at its doors which area their readers lead to.
    </p>
    <template v-else>
      <section class="card mb-3 p-3" aria-label="Map"><AreaMap :areas="areas" /></section>
      <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
      <section v-for="a in areas" :key="a.id" class="card mb-3" :aria-label="a.name">
        <div class="card-head">
          <h2>
            <RouterLink class="underline" :to="`/rules/areas/${a.id}`">{{ a.name }}</RouterLink>
          </h2>
          <span :class="a.most && a.inside >= a.most ? 'font-semibold text-wine' : 'note'"
            >{{ a.inside }} inside{{ a.most ? ` of at most ${a.most}` : '' }}</span
          >
          <button
            v-if="a.inside"
            type="button"
            class="btn px-2 py-0.5 text-[12.5px]"
            :disabled="busy"
            :aria-label="`Forgive all in ${a.name}`"
            @click="forgiveAll(a)"
          >
            Forgive all
          </button>
        </div>
        <p class="px-3.5 py-2 text-[13.5px] leading-relaxed">{{ a.words }}</p>
        <p v-if="!a.ways.length" class="px-3.5 pb-2 text-[13px] font-semibold text-wine">
          No reader leads there yet: choose a door on the left and say which area it leads to.
        </p>
        <div v-for="p in a.people" :key="p.id" class="row gap-2 text-[13.5px]">
          <span class="min-w-0 flex-1"
            ><RouterLink class="underline" :to="`/people/${p.id}`">{{ p.name }}</RouterLink
            ><span class="note ml-2">since {{ p.since }}</span></span
          >
          <button
            type="button"
            class="btn btn-quiet px-1"
            :disabled="busy"
            :aria-label="`Forgive ${p.name}`"
            @click="move({ people: [p.id] })"
          >
            Forgive</button
          ><button
            type="button"
            class="btn btn-quiet px-1"
            :disabled="busy"
            :aria-label="`Put outside: ${p.name}`"
            @click="move({ people: [p.id], out: true })"
          >
            Put outside</button
          ><ObjectPicker
            v-if="moving === p.id"
            :model-value="0"
            kind="area"
            class="w-44"
            :label="`Put ${p.name} into`"
            placeholder="Into which area"
            :leave-out="[a.id]"
            @chosen="(to: number) => to && move({ people: [p.id], to }).then(() => (moving = 0))"
          /><button
            v-else-if="areas.length > 1"
            type="button"
            class="btn btn-quiet px-1"
            :disabled="busy"
            :aria-label="`Elsewhere: ${p.name}`"
            @click="moving = p.id"
          >
            Elsewhere …
          </button>
        </div>
        <p v-if="a.inside > a.people.length" class="note px-3.5 py-2">
          and {{ a.inside - a.people.length }} more, who came in before
        </p>
      </section>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Somebody is inside once the door has opened for them; a grant that is not used moves nobody.</p>
        <p>Whose place is unknown may go anywhere once. Exit requests tell nobody who left.</p>
        <p><b>Forgive</b> makes a place unknown. Controllers that are cut off hear of it on their return.</p>
      </div>
    </template>
  </SheetFrame>
</template>
