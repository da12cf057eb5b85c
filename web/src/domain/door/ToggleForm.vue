<script setup lang="ts">
import { api, ask, type Schemas } from '../../api/client'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import FormField from '../../ui/FormField.vue'
import { usePreview } from '../../ui/usePreview'

/** The card toggle of a door, with the sentence that says what it does. */
const toggle = defineModel<Schemas['Toggle']>({ required: true })
const words = usePreview(
  () => toggle.value,
  (body, signal) => ask(api.POST('/api/rules/toggle', { body, signal })),
)
</script>

<template>
  <article class="row block py-2.5" aria-label="Card toggle">
    <b>Card toggle</b><span class="note ml-2 text-[12.5px]">this door</span>
    <p class="mt-0.5 text-[13.5px] leading-relaxed" :class="toggle.off ? 'text-ash' : ''" role="status">
      {{ words?.words ?? '…' }}
    </p>
    <div class="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2">
      <ChoiceBar
        v-model="toggle.reads"
        label="Reads that flip the door"
        :choices="[
          { value: 2, name: 'two reads' },
          { value: 3, name: 'three reads' },
        ]"
      />
      <FormField v-slot="f" of="Toggle" field="seconds" path="toggle.seconds"
        ><input v-model.number="toggle.seconds" v-bind="f.bind" type="number" class="field w-20! font-mono"
      /></FormField>
      <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
        ><input v-model="toggle.single" type="checkbox" /> a single read of theirs ends it</label
      >
      <label class="flex items-center gap-2 pb-1.5 text-[13.5px]"
        ><input v-model="toggle.off" type="checkbox" /> not in use</label
      >
    </div>
  </article>
</template>
