<script setup lang="ts" generic="V extends string | boolean | number">
import { RadioGroup, RadioGroupOption } from '@headlessui/vue'

/** One of a few: a press or the arrow keys choose, and the group is one Tab stop. */
withDefaults(defineProps<{ label: string; choices: { value: V; name: string }[]; look?: string; wide?: boolean }>(), {
  look: 'btn px-2.5',
})
const chosen = defineModel<V>({ required: true })
</script>

<template>
  <RadioGroup v-model="chosen" :aria-label="label" class="gap-1.5" :class="wide ? 'grid' : 'flex flex-wrap'">
    <RadioGroupOption v-for="c in choices" :key="String(c.value)" v-slot="{ checked }" :value="c.value" as="template">
      <button type="button" :class="[look, checked ? 'outline-2 outline-ink' : '']">
        <slot :choice="c" :checked="checked">{{ c.name }}</slot>
      </button>
    </RadioGroupOption>
  </RadioGroup>
</template>
