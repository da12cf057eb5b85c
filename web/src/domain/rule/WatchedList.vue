<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'

/** The inputs of an alarm area, and which of them lie on the way in and out. */
defineProps<{ problem?: string }>()
const inputs = defineModel<Schemas['Watched'][]>({ required: true })
const { nameOf } = useNames(() => inputs.value.map((w) => w.inputId))
const turn = (id: number, onWay: boolean) =>
  (inputs.value = inputs.value.map((w) => (w.inputId === id ? { inputId: id, ...(onWay ? { onWay } : {}) } : w)))
</script>

<template>
  <section class="card self-start" aria-label="Inputs">
    <div class="card-head">
      <h2>Inputs</h2>
      <span class="note">motion detectors, glass break, windows</span>
    </div>
    <p v-if="!inputs.length" class="px-3.5 py-2.5 text-[13.5px] text-ash">No input yet.</p>
    <div v-for="w in inputs" :key="w.inputId" class="row flex-wrap">
      <span class="min-w-0 flex-1"><PeekName :id="w.inputId" kind="input" :name="nameOf(w.inputId)" /></span>
      <label class="flex min-h-6 items-center gap-1.5 text-[13px]"
        ><input
          type="checkbox"
          :checked="w.onWay ?? false"
          @change="turn(w.inputId, ($event.target as HTMLInputElement).checked)"
        />
        on the way<span class="sr-only"> in and out: {{ nameOf(w.inputId) }}</span></label
      >
      <button
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Take out ${nameOf(w.inputId)}`"
        @click="inputs = inputs.filter((x) => x.inputId !== w.inputId)"
      >
        Take out
      </button>
    </div>
    <div class="row">
      <ObjectPicker
        :model-value="0"
        kind="input"
        class="w-full"
        label="Choose an input"
        placeholder="Choose an input"
        :leave-out="inputs.map((w) => w.inputId)"
        @chosen="(i: number) => i && (inputs = [...inputs, { inputId: i }])"
      />
    </div>
    <p v-if="problem" data-wrong class="px-3.5 pb-2 text-[12px] font-semibold text-wine">{{ problem }}</p>
  </section>
</template>
