<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import DateRange from '../../ui/DateRange.vue'
import EnrolCard from './EnrolCard.vue'

/** What a person shows at readers: presented, typed, each with its state and its dates. */
const credentials = defineModel<Schemas['Credential'][]>({ required: true })
const props = defineProps<{ fields: Record<string, string>; whose: string }>()
const emit = defineEmits<{ said: [words: string] }>()
const facility = ref<number>()
const number = ref<number>()
const kind = ref<'phone' | 'QR pass' | 'plate'>('phone')
const shown = ref('')
const format = ref('26-bit')
const query = useComputed(
  'formats',
  () => [],
  (signal) => ask(api.GET('/api/formats', { signal })),
)
/** The formats that readers take, and the one that is chosen. */
const formats = computed(() => (query.data.value ?? []).filter((f) => f.taken || f.name === format.value))
const coded = computed(() => {
  const f = formats.value.find((x) => x.name === format.value)
  return f ? f.mostFacility > 0 : format.value !== 'raw'
})

function took(c: { format: string; value: string; words: string; door: string }) {
  push(c.format, c.value)
  emit('said', `Card ${c.words} was presented at ${c.door}; it is ${props.whose || 'this person'}'s once saved.`)
}
const push = (f: string, value: string) => credentials.value.push({ kind: 'card', format: f, value, status: 'active' })
function addOther() {
  credentials.value.push({ kind: kind.value, value: shown.value.trim(), status: 'active' })
  shown.value = ''
}
function addTyped() {
  if (number.value === undefined) return
  push(
    format.value,
    coded.value ? `${facility.value ?? 0}-${String(number.value).padStart(5, '0')}` : String(number.value),
  )
  number.value = undefined
}
</script>

<template>
  <section class="card">
    <div class="card-head">
      <h2>Credentials</h2>
      <EnrolCard @took="took" />
    </div>
    <p v-if="!credentials.length" class="px-3.5 py-2.5 text-ash">
      No card. Let the person present one at a reader, or type its number.
    </p>
    <div v-for="(c, i) in credentials" :key="i" class="row py-1.5">
      <span class="w-16 text-ash">{{ c.format ?? c.kind }}</span><b class="w-28 truncate font-mono" :title="c.value">{{
        c.value
      }}</b>
      <select v-model="c.status" class="field w-32! py-0.5" :aria-label="`State of ${c.kind} ${c.value}`">
        <option v-for="s in ['active', 'lost', 'stolen', 'suspended']" :key="s">{{ s }}</option>
      </select>
      <DateRange
        v-model:from="c.from"
        v-model:until="c.until"
        :what="`${c.kind} ${c.value}`"
        :problem="fields[`credentials[${i}].from`] || fields[`credentials[${i}].until`]"
      />
      <span v-if="fields[`credentials[${i}].value`]" data-wrong class="text-[12px] font-semibold text-wine">{{
        fields[`credentials[${i}].value`]
      }}</span>
      <button
        class="btn btn-quiet ml-auto px-1"
        :aria-label="`Take away ${c.kind} ${c.value}`"
        @click="credentials.splice(i, 1)"
      >
        Take away
      </button>
    </div>
    <form class="row gap-2" @submit.prevent="addTyped">
      <select v-model="format" class="field w-32!" aria-label="Card format">
        <option v-for="f in formats" :key="f.name">{{ f.name }}</option>
      </select>
      <input
        v-if="coded"
        v-model.number="facility"
        type="number"
        min="0"
        class="field w-32! font-mono"
        placeholder="facility"
        aria-label="Facility code"
      /><input
        v-model.number="number"
        type="number"
        min="0"
        class="field w-36! font-mono"
        placeholder="card number"
        aria-label="Card number"
      /><button class="btn" :disabled="number === undefined">Add</button>
    </form>
    <form class="row gap-2" @submit.prevent="addOther">
      <select v-model="kind" class="field w-24!" aria-label="Kind of credential">
        <option>phone</option>
        <option>QR pass</option>
        <option>plate</option>
      </select>
      <input
        v-model="shown"
        class="field w-66! font-mono"
        :placeholder="
          { phone: 'what the phone shows', 'QR pass': 'text of the pass', plate: 'plate of the vehicle' }[kind]
        "
        aria-label="What is shown"
      /><button class="btn" :disabled="!shown.trim()">Add</button>
    </form>
  </section>
</template>
