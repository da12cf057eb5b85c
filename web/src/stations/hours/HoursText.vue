<script setup lang="ts">
import TextHelp from './TextHelp.vue'

/** The hours of a week as text, beside the drawing: what cannot be read, and what counts for nothing, in a sentence. */
defineProps<{ unread: string; notice?: string; placeholder: string; plan?: boolean }>()
const text = defineModel<string>({ required: true })
defineEmits<{ typed: []; left: [] }>()
</script>

<template>
  <div class="card mb-3">
    <textarea
      id="hours-text"
      v-model="text"
      class="block w-full resize-y rounded-t-lg px-3.5 py-2 font-mono text-[13px] leading-relaxed"
      :rows="plan ? 2 : 1"
      spellcheck="false"
      aria-label="Hours as text"
      aria-describedby="hours-said"
      :placeholder="placeholder"
      :aria-invalid="!!unread"
      @input="$emit('typed')"
      @change="$emit('left')"
    />
    <div class="flex items-center gap-2 border-t border-seam px-3.5 py-1 text-[13px]">
      <slot />
      <span v-if="unread" id="hours-said" role="alert" class="font-semibold text-wine">{{ unread }}</span>
      <span v-else-if="notice" class="text-wine">{{ notice }}</span>
      <span v-else class="note">type or paint; each shows the other at once</span>
      <TextHelp :plan="plan" class="ml-auto" />
    </div>
  </div>
</template>
