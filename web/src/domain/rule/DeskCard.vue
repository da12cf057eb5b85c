<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useComputed } from '../../core/query'
import PersonFace from '../person/PersonFace.vue'
import StandingList from './StandingList.vue'

/**
 * The desk: whoever shows a card at one of its readers stands here at once, with the button that clears them under the
 * hand.
 */
const query = useComputed(
  'desk now',
  () => [],
  (signal) => ask(api.GET('/api/desk-now', { signal })),
)
const list = computed<Schemas['Presented'][]>(() => query.data.value ?? [])
const first = computed(() => list.value[0])
const box = ref<HTMLElement>()
// A card that is shown anew puts the focus on its button, so that Enter clears; who writes in a field goes on.
watch(
  () => first.value?.key,
  async (key, before) => {
    if (!key || before === undefined || document.activeElement instanceof HTMLInputElement) return
    await nextTick()
    box.value?.querySelector<HTMLElement>('[data-clears]')?.focus()
  },
)
</script>

<template>
  <section ref="box" class="card" aria-label="At the desk">
    <div class="card-head">
      <h2>At the desk</h2>
      <span class="note">{{ first ? `card at ${first.desk.name}, ${inClock(first.when)}` : 'nobody just now' }}</span>
    </div>
    <p v-if="!first" class="px-3.5 py-3 text-[14px] text-ash">
      Let them show their card at the desk's reader: their record comes up here.
    </p>
    <div v-else role="status" :aria-label="`${first.person.name} at the desk`">
      <div class="flex items-center gap-3 px-3.5 pt-3 pb-1">
        <PersonFace :id="first.person.id" :name="first.person.name" />
        <span class="min-w-0"
          ><RouterLink class="block text-[16px] font-bold underline" :to="`/people/${first.person.id}`">{{
            first.person.name
          }}</RouterLink
          ><span class="note">{{ first.person.hint }}</span></span
        >
      </div>
      <StandingList :person="first.person.id" :name="first.person.name" :list="first.stands" main />
      <p v-if="!first.stands.length" class="px-3.5 pb-3 text-[13.5px] text-ash">
        Nobody screens them: what they hold counts.
      </p>
    </div>
    <p v-if="list.length > 1" class="note border-t border-seam px-3.5 py-2">
      Before:
      {{
        list
          .slice(1, 4)
          .map((p) => `${p.person.name} at ${p.desk.name}, ${inClock(p.when)}`)
          .join(' · ')
      }}
    </p>
  </section>
</template>
