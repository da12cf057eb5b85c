<script setup lang="ts">
import { useNames } from '../core/names'
import type { NamedKind } from '../core/query'
import ObjectPicker from './ObjectPicker.vue'
import PeekName from './PeekName.vue'

/** Things of one kind that were chosen, each with what is said of it there, to be taken out again, and a picker for more. */
defineProps<{ kind: NamedKind; title: string; note?: string; add: string; none: string; problem?: string }>()
const ids = defineModel<number[]>({ required: true })
const { nameOf } = useNames(() => ids.value)
</script>

<template>
  <section class="card self-start" :aria-label="title">
    <div class="card-head">
      <h2>{{ title }}</h2>
      <span class="note">{{ note ?? (ids.length || '') }}</span>
    </div>
    <p v-if="!ids.length" class="px-3.5 py-2.5 text-[13.5px] text-ash">{{ none }}</p>
    <div v-for="x in ids" :key="x" class="row">
      <span class="min-w-0 flex-1"><PeekName :id="x" :kind="kind" :name="nameOf(x)" /></span
      ><slot :id="x" :called="nameOf(x)" /><button
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Take out ${nameOf(x)}`"
        @click="ids = ids.filter((i) => i !== x)"
      >
        Take out
      </button>
    </div>
    <div class="row">
      <ObjectPicker
        :model-value="0"
        :kind="kind"
        class="w-full"
        :label="add"
        :placeholder="add"
        :leave-out="ids"
        @chosen="(i: number) => i && (ids = [...ids, i])"
      />
    </div>
    <p v-if="problem" data-wrong class="px-3.5 pb-2 text-[12px] font-semibold text-wine">{{ problem }}</p>
  </section>
</template>
