<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'

/** A credential that is typed: a card by its format and numbers, another by what it shows. */
const emit = defineEmits<{ add: [c: Schemas['Credential']] }>()
const kind = ref<Schemas['Credential']['kind']>('card')
const facility = ref<number>()
const number = ref<number>()
const shown = ref('')
const format = ref('26-bit')
const query = useComputed(
  'formats',
  () => [],
  (signal) => ask(api.GET('/api/formats', { signal })),
)
/** The formats that readers take, and the one that is chosen. */
const formats = computed(() => (query.data.value ?? []).filter((f) => f.taken || f.name === format.value))
const of = computed(() => formats.value.find((x) => x.name === format.value))
const coded = computed(() => (of.value ? of.value.mostFacility > 0 : format.value !== 'raw'))
const ready = computed(() => (kind.value === 'card' ? number.value !== undefined : !!shown.value.trim()))
function add() {
  if (!ready.value) return
  if (kind.value !== 'card') emit('add', { kind: kind.value, value: shown.value.trim(), status: 'active' })
  else {
    const value = coded.value ? `${facility.value ?? 0}-${number.value}` : String(number.value)
    emit('add', { kind: 'card', format: format.value, value, status: 'active' })
  }
  number.value = undefined
  shown.value = ''
}
</script>

<template>
  <form class="row flex-wrap gap-2" @submit.prevent="add">
    <select v-model="kind" class="field w-24!" aria-label="Kind of credential">
      <option>card</option>
      <option>phone</option>
      <option>QR pass</option>
      <option>plate</option>
    </select>
    <template v-if="kind === 'card'">
      <select v-model="format" class="field w-24!" aria-label="Card format">
        <option v-for="f in formats" :key="f.name">{{ f.name }}</option>
      </select>
      <input
        v-if="coded"
        v-model.number="facility"
        type="number"
        min="0"
        class="field w-24! font-mono"
        placeholder="facility"
        aria-label="Facility code"
      /><input
        v-model.number="number"
        type="number"
        min="0"
        class="field w-32! font-mono"
        placeholder="card number"
        aria-label="Card number"
      />
      <span v-if="of && of.mostNumber" class="note w-full text-[12px]"
        ><template v-if="coded">facility code at most {{ of.mostFacility }}, </template>card number at most
        {{ of.mostNumber.toLocaleString('en') }}</span
      >
    </template>
    <input
      v-else
      v-model="shown"
      class="field w-56! font-mono"
      :placeholder="
        { phone: 'what the phone shows', 'QR pass': 'text of the pass', plate: 'plate of the vehicle' }[kind]
      "
      aria-label="What is shown"
    />
    <button class="btn" :disabled="!ready">Add</button>
  </form>
</template>
