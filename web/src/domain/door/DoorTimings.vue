<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import FormField from '../../ui/FormField.vue'

/** How long a door is released, and when it raises an alarm. */
const door = defineModel<Schemas['Door']>({ required: true })
const relocks = {
  opening: 'on opening: stops a second person',
  closing: 'on closing: stops a leaf pulled open again',
  end: 'at the end of the time',
}
/** Why a timing does nothing at this door, or nothing. */
const idle = computed<Record<string, string>>(() => {
  const d = door.value
  const leaf = d.contact === 'none' ? 'needs a door contact' : ''
  const exit = d.exit === 'none' ? 'needs an exit request' : ''
  return { unlock: '', extended: '', exitTime: exit, heldOpen: leaf, preAlarm: leaf, forced: leaf }
})
const timings = ['unlock', 'extended', 'exitTime', 'heldOpen', 'preAlarm', 'forced'] as const
</script>

<template>
  <div class="grid grid-cols-3 gap-3 border-t border-seam pt-3 max-sm:grid-cols-2">
    <FormField v-for="k in timings" :key="k" v-slot="f" of="Door" :field="k">
      <input v-model.number="door[k]" v-bind="f.bind" type="number" class="field font-mono" :disabled="!!idle[k]" />
      <span v-if="idle[k]" class="note text-[12px]">{{ idle[k] }}</span>
    </FormField>
    <FormField v-slot="f" of="Door" field="relock" class="col-span-3 max-sm:col-span-2">
      <select v-bind="f.bind" v-model="door.relock" class="field">
        <option v-for="(n, k) in relocks" :key="k" :value="k" :disabled="door.contact === 'none' && k !== 'end'">
          {{ n }}
        </option>
      </select>
    </FormField>
  </div>
</template>
