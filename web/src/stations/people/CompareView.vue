<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import WhereCard from '../../domain/access/WhereCard.vue'
import { useNames } from '../../core/names'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import type { Schemas } from '../../api/client'
import PeopleTabs from './PeopleTabs.vue'
import { many } from '../../words'

/** Two levels or two people side by side: where each leads, and where they differ. */
const route = useRoute()
const router = useRouter()
const kind = computed(() => (route.query.kind === 'person' ? 'person' : 'level'))
const side = (name: 'a' | 'b') =>
  computed({
    get: () => Number(route.query[name] ?? 0),
    set: (v: number) => void router.replace({ query: { ...route.query, [name]: v || undefined } }),
  })
const a = side('a')
const b = side('b')
const { nameOf } = useNames(() => [a.value, b.value])
const told = ref<{ a?: Schemas['Where']; b?: Schemas['Where'] }>({})
const asked = (id: number): Schemas['WhereAsked'] | undefined => (id ? { [kind.value]: id } : undefined)
/** Doors that only one of them reaches, or at other hours on the day that is shown. */
const apart = computed(() => {
  const { a: x, b: y } = told.value
  if (!x || !y) return undefined
  const hours = (w: Schemas['Where']) =>
    new Map(w.doors.map((d) => [d.id, { name: d.name, open: JSON.stringify(d.open) }]))
  const p = hours(x)
  const q = hours(y)
  return {
    onlyA: [...p].filter(([id]) => !q.has(id)).map(([, d]) => d.name),
    onlyB: [...q].filter(([id]) => !p.has(id)).map(([, d]) => d.name),
    other: [...p].filter(([id, d]) => q.has(id) && q.get(id)!.open !== d.open).map(([, d]) => d.name),
    same: [...p].filter(([id, d]) => q.get(id)?.open === d.open).length,
  }
})
</script>

<template>
  <SheetFrame title="Compare" :under="kind === 'level' ? 'Two access levels side by side' : 'Two people side by side'">
    <PeopleTabs />
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <ChoiceBar
        :model-value="kind"
        label="What is compared"
        :choices="[
          { value: 'level', name: 'levels' },
          { value: 'person', name: 'people' },
        ]"
        @update:model-value="(k) => router.replace({ query: { kind: String(k) } })"
      />
      <ObjectPicker :key="`a${kind}`" v-model="a" :kind="kind" class="w-56" label="The one" placeholder="The one" />
      <ObjectPicker :key="`b${kind}`" v-model="b" :kind="kind" class="w-56" label="The other" placeholder="The other" />
    </div>
    <div v-if="apart" class="card mb-3 p-3.5 text-[13.5px] leading-relaxed" role="status">
      <p v-if="!apart.onlyA.length && !apart.onlyB.length && !apart.other.length">
        <b>The same</b> at all doors on this day.
      </p>
      <p v-if="apart.onlyA.length">
        <b>Only {{ nameOf(a) }}:</b> {{ apart.onlyA.join(', ') }}
      </p>
      <p v-if="apart.onlyB.length">
        <b>Only {{ nameOf(b) }}:</b> {{ apart.onlyB.join(', ') }}
      </p>
      <p v-if="apart.other.length"><b>At other hours on this day:</b> {{ apart.other.join(', ') }}</p>
      <p v-if="apart.same" class="note">
        At {{ many(apart.same, 'door', 'doors') }} there is no difference on this day.
      </p>
    </div>
    <div class="grid grid-cols-2 items-start gap-3 max-[1100px]:grid-cols-1">
      <WhereCard
        v-if="a"
        :title="nameOf(a)"
        :asked="asked(a)"
        none="Nowhere."
        @told="(w) => (told = { ...told, a: w })"
      />
      <WhereCard
        v-if="b"
        :title="nameOf(b)"
        :asked="asked(b)"
        none="Nowhere."
        @told="(w) => (told = { ...told, b: w })"
      />
    </div>
    <p v-if="!a || !b" class="text-ash">Choose two {{ kind === 'level' ? 'access levels' : 'people' }}.</p>
  </SheetFrame>
</template>
