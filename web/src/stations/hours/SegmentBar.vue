<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { ref, watch } from 'vue'
import type { Mode } from '../../api/client'
import { clock, readTime } from '../../clock'
import { modes } from '../../words'
import { useNames } from '../../core/names'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import type { Piece } from './week'

/** One segment in numbers: its times to the minute, its mode, what it waits for, whom it is limited to. */
/** Minutes past 24:00 counted on, as what is left of a night is written. */
const long = (m: number) => `${Math.floor(m / 60)}:${String(m % 60).padStart(2, '0')}`
const props = defineProps<{ piece: Piece; label: string; plan?: boolean }>()
const emit = defineEmits<{ set: [piece: Piece]; gap: []; remove: []; close: [] }>()
const from = ref('')
const to = ref('')
const mode = ref<Mode>('card')
const first = ref(false)
const only = ref<number[]>([])
const { nameOf } = useNames(only)
const problem = ref('')
watch(
  () => props.piece,
  (p) => {
    from.value = p.start > 1440 ? long(p.start) : clock(p.start)
    to.value = p.start > 1440 ? long(p.end) : clock(p.end)
    mode.value = (p.mode ?? 'free') as Mode
    first.value = !!p.first
    only.value = [...(p.levels ?? [])]
    problem.value = ''
  },
  { immediate: true },
)

/** Minutes of a time as the site writes it, or past midnight counted on, as 26:00. */
const minute = (s: string) => {
  const plain = readTime(s)
  if (plain !== undefined) return plain
  const m = /^(\d{1,2}):([0-5]\d)$/.exec(s.trim())
  const past = m ? Number(m[1]) * 60 + Number(m[2]) : -1
  return past <= 2880 ? past : -1
}
function set() {
  const start = minute(from.value)
  let end = minute(to.value)
  if (start < 0 || end < 0 || (start >= 1440 && end <= start)) {
    problem.value = `Write times as ${clock(510)}; what is left of a night, on the next day, as 26:00 to 30:00.`
    return
  }
  if (end <= start) end += 1440 // on the next day
  const limited = !['free', 'barred'].includes(mode.value) ? only.value : []
  emit(
    'set',
    props.plan
      ? {
          start,
          end,
          mode: mode.value,
          ...(first.value && mode.value === 'free' ? { first: true } : {}),
          ...(limited.length ? { levels: limited } : {}),
        }
      : { start, end },
  )
}
</script>

<template>
  <form
    class="flex flex-wrap items-center gap-x-2.5 gap-y-1.5 border-t border-seam px-3.5 py-2 text-[13px]"
    :aria-label="`Segment on ${label}`"
    @submit.prevent="set"
  >
    <b>{{ label }}</b>
    <input v-model="from" class="field w-[64px]! py-0.5 font-mono" aria-label="Segment from" /><span class="text-ash"
      >to</span
    ><input v-model="to" class="field w-[64px]! py-0.5 font-mono" aria-label="Segment to" />
    <template v-if="plan">
      <select v-model="mode" class="field w-auto! py-0.5" aria-label="Segment asks">
        <option v-for="m in modes" :key="m" :value="m">{{ m }}</option>
      </select>
      <label v-if="mode === 'free'" class="flex items-center gap-1.5"
        ><input v-model="first" type="checkbox" /> waits for a first card</label
      >
      <Popover v-else-if="mode !== 'barred'" class="relative">
        <PopoverButton class="min-h-[24px] underline decoration-dotted underline-offset-3">{{
          only.length ? `only ${only.map(nameOf).join(', ')}` : 'all levels count'
        }}</PopoverButton>
        <PopoverPanel class="absolute z-20 mt-1 w-64 rounded-lg border border-seam bg-paper p-2.5 shadow-lg">
          <p class="note mb-1">Only these levels count; none: all do.</p>
          <p v-for="l in only" :key="l" class="flex items-center justify-between gap-2 py-0.5">
            {{ nameOf(l)
            }}<button
              type="button"
              class="btn btn-quiet px-1 py-0"
              :aria-label="`Leave ${nameOf(l)} out`"
              @click="only = only.filter((x) => x !== l)"
            >
              Leave out
            </button>
          </p>
          <ObjectPicker
            :model-value="0"
            kind="level"
            label="Another level that counts"
            placeholder="Find an access level"
            :leave-out="only"
            @chosen="(l: number) => (only = [...only, l])"
          />
        </PopoverPanel>
      </Popover>
    </template>
    <button class="btn btn-amber px-2.5 py-0.5">Set</button
    ><button type="button" class="btn px-2.5 py-0.5" title="Cuts half an hour out of its middle" @click="emit('gap')">
      Split</button
    ><button type="button" class="btn px-2.5 py-0.5" @click="emit('remove')">Take away</button
    ><button
      type="button"
      class="btn btn-quiet ml-auto px-1 py-0.5 no-underline"
      aria-label="Close"
      title="Close"
      @click="emit('close')"
    >
      ×
    </button>
    <span v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</span>
  </form>
</template>
