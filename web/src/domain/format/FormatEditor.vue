<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import FormField from '../../ui/FormField.vue'
import BitRuler from './BitRuler.vue'
import { lay, type Layout, type Tool } from './layout'

/** A card format of one's own: its length, and what lies over its bits, with a read to try it on. */
const format = defineModel<Layout>({ required: true })
const props = defineProps<{ path: string; read: string }>()
defineEmits<{ remove: [] }>()
const tool = ref<Tool>('facility')
const decoded = ref<Schemas['DecodedBy']>()
const trouble = ref('')

const tools = computed<{ id: Tool; words: string }[]>(() => [
  { id: 'facility', words: 'facility code' },
  { id: 'number', words: 'card number' },
  ...(format.value.parity ?? []).flatMap((_, i) => [
    { id: `parity ${i}` as Tool, words: `parity bit ${i + 1}` },
    { id: `watch ${i}` as Tool, words: `watched by ${i + 1}` },
  ]),
  { id: 'zero', words: 'always 0' },
  { id: 'one', words: 'always 1' },
  { id: 'nothing', words: 'not used' },
])
const apply = (from: number, to: number) => (format.value = lay(format.value, tool.value, from, to))
const change = (part: Partial<Layout>) => (format.value = { ...format.value, ...part })
const addParity = () => change({ parity: [...(format.value.parity ?? []), { bit: format.value.bits, over: '2-3' }] })
const setParity = (i: number, p: Partial<Schemas['BitParity']>) =>
  change({ parity: (format.value.parity ?? []).map((x, k) => (k === i ? { ...x, ...p } : x)) })
function dropParity(i: number) {
  change({ parity: (format.value.parity ?? []).filter((_, k) => k !== i) })
  tool.value = 'facility'
}
const most = (bits: number | undefined) => (bits ? 2 ** Math.min(bits, 53) - 1 : 0).toLocaleString('en')

watch(
  () => [props.read, JSON.stringify(format.value)],
  async () => {
    decoded.value = undefined
    trouble.value = ''
    if (!props.read) return
    try {
      const r = await ask(api.POST('/api/decode', { body: { bits: props.read, own: format.value } }))
      decoded.value = r.tried[0]
    } catch (e) {
      trouble.value = whatIsWrong(e)
    }
  },
  { immediate: true },
)
</script>

<template>
  <div class="space-y-3 p-3.5">
    <div class="flex flex-wrap gap-3">
      <FormField v-slot="f" of="OwnFormat" field="name" :path="`${path}.name`" class="w-56">
        <input
          :value="format.name"
          v-bind="f.bind"
          class="field"
          @input="change({ name: ($event.target as HTMLInputElement).value })"
        />
      </FormField>
      <FormField v-slot="f" of="OwnFormat" field="bits" :path="`${path}.bits`" class="w-28">
        <input
          :value="format.bits"
          v-bind="f.bind"
          type="number"
          min="8"
          max="256"
          class="field font-mono"
          @change="change({ bits: Number(($event.target as HTMLInputElement).value) })"
        />
      </FormField>
      <p class="note self-end pb-1.5">
        facility code 0–{{ most(format.facility?.bits) }}, number 0–{{ most(format.number.bits) }}
      </p>
    </div>
    <div role="toolbar" aria-label="What to lay over the bits" class="flex flex-wrap gap-1.5">
      <button
        v-for="t in tools"
        :key="t.id"
        type="button"
        class="btn px-2 py-0.5 text-[12px]"
        :class="tool === t.id ? 'border-ink bg-mode-card' : ''"
        :aria-pressed="tool === t.id"
        @click="tool = t.id"
      >
        {{ t.words }}
      </button>
      <button type="button" class="btn btn-quiet px-1 py-0.5 text-[12px]" @click="addParity">Add a parity bit</button>
    </div>
    <BitRuler :layout="format" :tool="tool" :read="read.length === format.bits ? read : undefined" @lay="apply" />
    <div v-for="(p, i) in format.parity ?? []" :key="i" class="flex flex-wrap items-end gap-2 text-[13px]">
      <b class="pb-1.5">Parity {{ i + 1 }}</b>
      <FormField v-slot="f" label="Bit" :path="`${path}.parity[${i}].bit`" class="w-20"
        ><input
          :value="p.bit"
          v-bind="f.bind"
          type="number"
          class="field py-1 font-mono"
          @change="setParity(i, { bit: Number(($event.target as HTMLInputElement).value) })"
      /></FormField>
      <FormField v-slot="f" label="Watches" :path="`${path}.parity[${i}].over`" class="w-44"
        ><input
          :value="p.over"
          v-bind="f.bind"
          class="field py-1 font-mono"
          placeholder="2-13"
          @change="setParity(i, { over: ($event.target as HTMLInputElement).value })"
      /></FormField>
      <label class="flex items-center gap-1 pb-1.5"
        ><input
          type="checkbox"
          :checked="p.odd"
          @change="setParity(i, { odd: ($event.target as HTMLInputElement).checked || undefined })"
        />
        odd</label
      >
      <button type="button" class="btn btn-quiet px-1 pb-1.5 text-[12px]" @click="dropParity(i)">Remove</button>
    </div>
    <p v-if="decoded" class="border-l-4 border-amber pl-3">
      The read is <b v-if="decoded.fits">{{ decoded.value }}</b><b v-else class="text-wine"
        >no card of this format: {{ decoded.words }}</b
      >.
    </p>
    <p v-if="trouble" class="font-semibold text-wine">{{ trouble }}</p>
    <button type="button" class="btn" @click="$emit('remove')">Remove this format</button>
  </div>
</template>
