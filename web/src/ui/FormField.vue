<script setup lang="ts">
import { computed, useId } from 'vue'
import { fields as said } from '../api/fields'
import { useFieldErrors } from '../core/sheet'
import { useClashWords } from './clashWords'

/**
 * A field with its label, unit and limits, as the API describes it (of="Door" field="unlock"), or as said here, and
 * what the server has against what stands in it. The slot binds what goes to the control.
 */
const props = defineProps<{
  label?: string
  problem?: string
  unit?: string
  of?: string
  field?: string
  /** The path of the value in the document, where it is not the field's name. */
  path?: string
  quiet?: boolean
}>()
const id = useId()
const sheet = useFieldErrors()
const api = computed(() => (props.of && props.field ? said[`${props.of}.${props.field}`] : undefined))
const at = computed(() => props.path ?? props.field ?? '')
sheet?.place((path) => path !== '' && path === at.value)
const wrong = computed(() => props.problem || (at.value && sheet?.fields.value[at.value]) || '')
const clash = computed(() => sheet?.clashes.value.find((c) => c.path === at.value && at.value))
const title = computed(() => props.label ?? api.value?.title ?? '')
const measure = computed(() => props.unit ?? api.value?.unit)
const bind = computed(() => ({
  id,
  'aria-invalid': wrong.value ? true : undefined,
  'aria-describedby': wrong.value || clash.value ? `${id}-said` : undefined,
  'data-field': at.value || undefined,
  min: api.value?.min,
  max: api.value?.max,
  maxlength: api.value?.longest,
}))
const words = useClashWords(computed(() => (clash.value ? [clash.value] : [])))
</script>

<template>
  <div>
    <label class="mb-0.5" :class="quiet ? 'sr-only' : 'label block'" :for="id"
      >{{ title }}<span v-if="measure" class="font-normal"> · {{ measure }}</span></label
    >
    <slot :id="id" :invalid="!!wrong" :bind="bind" />
    <div v-if="wrong || clash" :id="`${id}-said`" class="mt-0.5 text-[12px] font-semibold text-wine">
      <p v-if="wrong">{{ wrong }}</p>
      <p v-if="clash" class="flex flex-wrap items-center gap-1.5">
        Somebody else wrote “{{ words(clash, 'theirs') }}”, here stands “{{ words(clash, 'mine') }}”.
        <button type="button" class="btn px-1.5 py-0 text-[12px] text-ink" @click="sheet!.settle(clash, 'mine')">
          Keep mine
        </button>
        <button type="button" class="btn px-1.5 py-0 text-[12px] text-ink" @click="sheet!.settle(clash, 'theirs')">
          Take theirs
        </button>
      </p>
    </div>
  </div>
</template>
