<script setup lang="ts">
import type { Schemas } from '../../api/client'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { clock } from '../../clock'
import { useTypes } from './types'

/** The days that can be loaded, each with a tick and the type that it would have. */
defineProps<{ offer: Schemas['Offer'] }>()
const ticked = defineModel<Record<number, boolean>>('ticked', { required: true })
const usual = defineModel<number>('usual', { required: true })
const typeOf = defineModel<Record<string, number>>('typeOf', { required: true })
const { tint } = useTypes()
const type = (name: string) => typeOf.value[name] ?? usual.value
</script>

<template>
  <div class="card-head py-1.5">
    <h2>{{ offer.title }}</h2>
    <div class="flex items-center gap-1.5 text-[13px]">
      Type<ObjectPicker v-model="usual" kind="holiday type" class="w-[150px]" label="Type of all" />
    </div>
  </div>
  <p v-for="p in offer.problems" :key="p" class="border-b border-seam px-3.5 py-1 text-[13px] text-wine">
    {{ p }}
  </p>
  <p v-if="!offer.days.length" class="p-4 text-ash">No public holidays in these years.</p>
  <div class="max-h-[520px] overflow-auto">
    <div v-for="(d, i) in offer.days" :key="i" class="row py-1 text-[13px]" :class="ticked[i] ? '' : 'text-ash'">
      <label class="flex min-w-0 flex-1 items-center gap-2.5"
        ><input v-model="ticked[i]" type="checkbox" :disabled="d.same" /><span
          class="w-[122px] shrink-0 font-mono text-[12px] whitespace-nowrap"
          >{{ d.words }}</span
        ><span class="truncate" :title="d.name">{{ d.name }}</span
        ><span v-if="d.substitute" class="pill border border-seam text-ash">substitute day</span
        ><span v-if="d.end - d.start < 1440" class="note">{{ clock(d.start) }}–{{ clock(d.end) }}</span></label
      >
      <span v-if="d.same" class="note text-[12px]">already entered</span>
      <template v-else
        ><span v-if="d.known" class="note max-w-32 truncate text-[12px]" :title="d.known">there: {{ d.known }}</span
        ><template v-if="ticked[i]"
          ><span class="size-2.5 shrink-0 rounded-full" :class="tint(type(d.name))" /><ObjectPicker
            :model-value="type(d.name)"
            kind="holiday type"
            class="w-[132px]"
            :label="`Type of ${d.name}`"
            @update:model-value="(id: number) => (typeOf = { ...typeOf, [d.name]: id })" /></template
      ></template>
    </div>
  </div>
</template>
