<script setup lang="ts">
import { ref } from 'vue'

/** A button that acts once it is held for a moment, by the hand or by a key, so that no slip begins anything. */
defineProps<{ disabled?: boolean }>()
const emit = defineEmits<{ held: [] }>()
const pressed = ref(false)
let timer = 0
function press() {
  if (pressed.value) return
  pressed.value = true
  timer = window.setTimeout(() => {
    pressed.value = false
    emit('held')
  }, 900)
}
function letGo() {
  pressed.value = false
  clearTimeout(timer)
}
</script>

<template>
  <button
    type="button"
    class="btn relative overflow-hidden border-wine px-3 py-1 font-semibold text-wine"
    :disabled="disabled"
    @pointerdown="press"
    @pointerup="letGo"
    @pointerleave="letGo"
    @pointercancel="letGo"
    @keydown.enter.prevent="press"
    @keydown.space.prevent="press"
    @keyup.enter="letGo"
    @keyup.space="letGo"
    @blur="letGo"
  >
    <span
      class="absolute inset-y-0 left-0 bg-wine/20"
      :class="pressed ? 'w-full transition-[width] duration-900 ease-linear' : 'w-0'"
      aria-hidden="true"
    />
    <slot />
  </button>
</template>
