<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Mode } from '../../api/client'
import { clock, modes } from '../../words'
import type { Piece } from './week'

/** One segment in numbers: its times to the minute, its mode, what it waits for, whom it is limited to. */
/** Minutes past 24:00 counted on, as what is left of a night is written. */
const long = (m: number) => `${Math.floor(m / 60)}:${String(m % 60).padStart(2, '0')}`
const props = defineProps<{ piece: Piece; label: string; plan?: boolean; levels: { id: number; name: string }[] }>()
const emit = defineEmits<{ set: [piece: Piece]; gap: []; remove: []; close: [] }>()
const from = ref('')
const to = ref('')
const mode = ref<Mode>('card')
const first = ref(false)
const only = ref<number[]>([])
const problem = ref('')
watch(() => props.piece, (p) => {
  from.value = p.start > 1440 ? long(p.start) : clock(p.start)
  to.value = p.start > 1440 ? long(p.end) : clock(p.end)
  mode.value = (p.mode ?? 'free') as Mode
  first.value = !!p.first
  only.value = [...(p.levels ?? [])]
  problem.value = ''
}, { immediate: true })

const minute = (s: string) => {
  const m = /^(\d{1,2}):(\d\d)$/.exec(s.trim())
  return m && Number(m[2]) < 60 && Number(m[1]) * 60 + Number(m[2]) <= 2880 ? Number(m[1]) * 60 + Number(m[2]) : -1
}
function set() {
  const start = minute(from.value)
  let end = minute(to.value)
  if (start < 0 || end < 0 || (start >= 1440 && end <= start)) {
    problem.value = 'Write times as 08:30; what is left of a night, on the next day, as 26:00 to 30:00.'
    return
  }
  if (end <= start) end += 1440 // on the next day
  const limited = !['free', 'barred'].includes(mode.value) ? only.value : []
  emit('set', props.plan ? { start, end, mode: mode.value, ...(first.value && mode.value === 'free' ? { first: true } : {}), ...(limited.length ? { levels: limited } : {}) } : { start, end })
}
</script>

<template>
  <form class="flex flex-wrap items-center gap-x-2.5 gap-y-1.5 border-t border-seam px-3.5 py-2 text-[13px]" :aria-label="`Segment on ${label}`" @submit.prevent="set">
    <b>{{ label }}</b>
    <input v-model="from" class="field w-[64px]! py-0.5 font-mono" aria-label="Segment from" /><span class="text-ash">to</span><input v-model="to" class="field w-[64px]! py-0.5 font-mono" aria-label="Segment to" />
    <template v-if="plan">
      <select v-model="mode" class="field w-auto! py-0.5" aria-label="Segment asks"><option v-for="m in modes" :key="m" :value="m">{{ m }}</option></select>
      <label v-if="mode === 'free'" class="flex items-center gap-1.5"><input v-model="first" type="checkbox" /> waits for a first card</label>
      <details v-else-if="mode !== 'barred'" class="relative"><summary class="underline decoration-dotted underline-offset-3">{{ only.length ? `only ${levels.filter((l) => only.includes(l.id)).map((l) => l.name).join(', ')}` : 'all levels count' }}</summary>
        <div class="absolute z-20 mt-1 max-h-64 w-60 overflow-auto rounded-lg border border-seam bg-paper p-2.5 shadow-lg"><p class="note mb-1">Tick levels to let only these count:</p><label v-for="l in levels" :key="l.id" class="flex items-center gap-1.5 py-0.5"><input v-model="only" type="checkbox" :value="l.id" /> {{ l.name }}</label></div>
      </details>
    </template>
    <button class="btn btn-amber px-2.5 py-0.5">Set</button><button type="button" class="btn px-2.5 py-0.5" title="Cuts half an hour out of its middle" @click="emit('gap')">Split</button><button type="button" class="btn px-2.5 py-0.5" @click="emit('remove')">Take away</button><button type="button" class="btn btn-quiet ml-auto px-1 py-0.5 no-underline" aria-label="Close" title="Close" @click="emit('close')">×</button>
    <span v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</span>
  </form>
</template>
