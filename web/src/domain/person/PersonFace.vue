<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useAttempt } from '../../ui/attempt'

/** Somebody's picture, or their initials; a click chooses a picture. */
const props = defineProps<{ id: number; name: string }>()
const { attempt, problem } = useAttempt()
const turn = ref(0)
const shows = ref(props.id > 0)
watch(
  () => props.id,
  () => (shows.value = props.id > 0),
)
const initials = computed(() =>
  props.name
    .split(/\s+/)
    .filter(Boolean)
    .slice(0, 2)
    .map((w) => w[0]!.toUpperCase())
    .join(''),
)
const address = computed(() => `/api/photos/${props.id}?${turn.value}`)
async function put(method: 'PUT' | 'DELETE', file?: Blob) {
  await attempt(async () => {
    const r = await fetch(`/api/photos/${props.id}`, {
      method,
      ...(file ? { body: file, headers: { 'Content-Type': file.type } } : {}),
    })
    if (!r.ok) throw new Error(((await r.json()) as { detail?: string }).detail ?? 'The picture was not saved.')
    turn.value++
    shows.value = method === 'PUT'
  })
}
const chosen = (e: Event) => {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (file) void put('PUT', file)
}
</script>

<template>
  <span class="relative shrink-0">
    <label
      class="grid size-11 cursor-pointer place-items-center overflow-hidden rounded-md bg-mode-card text-[15px] font-bold focus-within:outline-2"
      :title="id ? 'Choose a picture' : ''"
    >
      <img v-if="shows" :src="address" alt="" class="size-full object-cover" @error="shows = false" />
      <template v-else>{{ initials || '?' }}</template>
      <input
        v-if="id"
        type="file"
        accept="image/jpeg,image/png"
        class="sr-only"
        aria-label="Choose a picture"
        @change="chosen"
      />
    </label>
    <button v-if="shows && id" class="sr-only focus:not-sr-only" @click="put('DELETE')">Take the picture away</button>
    <span
      v-if="problem"
      role="alert"
      class="absolute top-full left-0 z-10 w-56 bg-paper text-[12px] font-semibold text-wine"
      >{{ problem }}</span
    >
  </span>
</template>
