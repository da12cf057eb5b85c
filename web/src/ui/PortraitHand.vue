<script setup lang="ts">
/** A part of the drawing of a door that can be touched: a button that lies over it, in the drawing's measures. */
defineProps<{ box: [x: number, y: number, width: number, height: number]; label: string }>()
const size = [336, 262]
const pct = (v: number, of: number) => `${(v / of) * 100}%`
</script>

<template>
  <button
    type="button"
    class="absolute rounded-md"
    :aria-label="label"
    :title="label"
    :style="{
      left: pct(box[0], size[0]!),
      top: pct(box[1], size[1]!),
      width: pct(box[2], size[0]!),
      height: pct(box[3], size[1]!),
    }"
  />
</template>
