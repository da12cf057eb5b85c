<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import StateBox from '../../ui/StateBox.vue'
import HandOrder from '../rule/HandOrder.vue'
import { usualRules } from '../rule/usual'
import ToggleForm from './ToggleForm.vue'

/** The rules at a door, in the order in which they are checked; then those that are not in use, with what they are for. */
const props = defineProps<{ id: number; car?: boolean }>()
const toggle = defineModel<Schemas['Toggle'] | undefined>('toggle')
const outside = defineModel<number | undefined>('outside')
const inside = defineModel<number | undefined>('inside')
const nowhere = [{ id: 0, name: 'outside of all areas' }]
const makeArea = async (name: string) =>
  (await ask(api.POST('/api/areas', { body: { ...(await usualRules()).area, name } }))).value.id
const useToggle = async () => (toggle.value = (await usualRules(props.id)).toggle)
const query = useComputed(
  'rules at a door',
  () => [props.id],
  (signal) => ask(api.GET('/api/doors/{id}/rules', { params: { path: { id: props.id } }, signal })),
)
const lines = computed<Schemas['RuleLine'][] | undefined>(() => query.data.value)
/** A card toggle under edit is shown as it would be, in its own form. */
const here = computed(() => lines.value?.filter((l) => l.scope && l.kind !== 'card toggle'))
const offered = computed(() => lines.value?.filter((l) => !l.scope && l.kind !== 'card toggle'))
const homes: Partial<Record<Schemas['RuleLine']['kind'], string>> = {
  'several proofs': '/rules/proofs/',
  interlock: '/rules/interlocks/',
  area: '/rules/areas/',
  screening: '/rules/screening/',
  'lockdown and fire': '/rules/emergencies/',
  reaction: '/rules/reactions/',
  'alarm area': '/rules/alarm-areas/',
}
const to = (l: Schemas['RuleLine']) => {
  if (l.kind === 'first card') return `/hours/doors/${props.id}`
  return homes[l.kind] ? `${homes[l.kind]}${l.id}` : '/rules/keypads'
}
const add = (l: Schemas['RuleLine']) => `${homes[l.kind]}new?door=${props.id}`
</script>

<template>
  <StateBox
    v-if="!lines"
    :loading="query.isPending.value"
    :error="query.error.value"
    :again="() => query.refetch()"
    :rows="6"
  />
  <template v-else>
    <HandOrder class="mb-3" :targets="[{ kind: 'door', id }]" />
    <section class="card mb-3" aria-label="Rules here">
      <div class="card-head">
        <h2>Rules here</h2>
        <span class="note">in the order in which they are checked</span>
      </div>
      <ToggleForm v-if="toggle" v-model="toggle" />
      <p v-if="!here?.length && !toggle" class="px-3.5 py-2.5 text-[13.5px] text-ash">
        None: a level and its hours are enough.
      </p>
      <article
        v-for="l in here"
        :key="l.kind + l.id"
        class="row items-start gap-3 py-2"
        :class="l.off ? 'text-ash' : ''"
      >
        <div class="min-w-0 flex-1">
          <RouterLink class="font-semibold underline" :to="to(l)">{{ l.name }}</RouterLink>
          <span class="note ml-2 text-[12.5px]">{{ l.scope }}</span>
          <span v-if="l.off" class="pill ml-2 border border-seam">not in use</span>
          <p class="mt-0.5 text-[13.5px] leading-relaxed">{{ l.words }}</p>
        </div>
        <RouterLink
          class="btn shrink-0 px-2 py-0.5 text-[12.5px]"
          :to="`/prove/${id}`"
          :aria-label="`Try it at the bench: ${l.name}`"
          >Try it at the bench</RouterLink
        >
      </article>
    </section>
    <section v-if="!car" class="card mb-3" aria-label="Between areas">
      <div class="card-head">
        <h2>Between areas</h2>
        <span class="note">{{
          (outside ?? 0) === (inside ?? 0) ? 'it leads nowhere: nobody is counted' : 'the reader in leads from, and to'
        }}</span>
      </div>
      <div class="flex flex-wrap items-center gap-2 px-3.5 py-2.5 text-[13.5px]">
        <ObjectPicker
          :model-value="outside ?? 0"
          kind="area"
          class="w-52"
          label="Area outside"
          :besides="nowhere"
          :make="makeArea"
          @update:model-value="(i: number) => (outside = i || undefined)"
        /><span aria-hidden="true">→</span>
        <ObjectPicker
          :model-value="inside ?? 0"
          kind="area"
          class="w-52"
          label="Area inside"
          :besides="nowhere"
          :make="makeArea"
          @update:model-value="(i: number) => (inside = i || undefined)"
        />
      </div>
    </section>
    <section class="card" aria-label="Not in use here">
      <div class="card-head"><h2>Not in use here</h2></div>
      <article v-for="l in offered" :key="l.kind" class="row items-start gap-3 py-2">
        <div class="min-w-0 flex-1">
          <b>{{ l.name }}</b>
          <p class="text-[13.5px] text-ash">{{ l.words }}</p>
        </div>
        <RouterLink class="btn shrink-0 px-2.5 py-1" :to="add(l)" :aria-label="`Use: ${l.name}`">Use</RouterLink>
      </article>
      <article v-if="!toggle && !car" class="row items-start gap-3 py-2">
        <div class="min-w-0 flex-1">
          <b>Card toggle</b>
          <p class="text-[13.5px] text-ash">
            Two or three reads in a row by somebody who may set the door free, or end that.
          </p>
        </div>
        <button type="button" class="btn shrink-0 px-2.5 py-1" aria-label="Use: Card toggle" @click="useToggle">
          Use
        </button>
      </article>
    </section>
  </template>
</template>
