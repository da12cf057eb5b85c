<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useAll } from '../../core/query'
import DoorTree from '../../ui/DoorTree.vue'

/** Places of doors: every door, or sites, floors, door sets and single doors. */
defineProps<{ label: string; all: string; height?: string }>()
const targets = defineModel<Schemas['Target'][]>({ required: true })
const sets = useAll('door set')
const every = computed({
  get: () => targets.value.some((t) => t.kind === 'everything'),
  set: (on: boolean) => (targets.value = on ? [{ kind: 'everything' }] : []),
})
const places = (kind: Schemas['Target']['kind']) =>
  computed({
    get: () => targets.value.filter((t) => t.kind === kind).map((t) => t.id ?? 0),
    set: (ids: number[]) =>
      (targets.value = [...targets.value.filter((t) => t.kind !== kind), ...ids.map((id) => ({ kind, id }))]),
  })
const doors = places('door')
const floors = places('floor')
const sites = places('site')
const setIds = places('door set')
</script>

<template>
  <div>
    <label class="mb-1 flex min-h-[26px] items-center gap-2 text-[13.5px]"
      ><input v-model="every" type="checkbox" /> {{ all }}</label
    >
    <DoorTree
      v-if="!every"
      v-model="doors"
      v-model:floors="floors"
      v-model:sites="sites"
      v-model:set-ids="setIds"
      :label="label"
      places
      :sets="(sets.data.value ?? []).map((s) => s.value)"
      :class="height ?? 'h-[220px]'"
    />
  </div>
</template>
