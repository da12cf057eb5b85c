<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import FormField from '../../ui/FormField.vue'

/** One side's reader: what it takes, how it is connected, and how it behaves. */
const reader = defineModel<Schemas['Reader']>({ required: true })
const props = defineProps<{ side: 'in' | 'out'; lacks: Record<string, string>; car?: boolean }>()
/** What the firmware of the controller has not yet is said where it is chosen. */
const features = computed(() => [
  ...(reader.value.connection === 'osdp' ? ['OSDP readers'] : []),
  ...(reader.value.takes ?? []).map((k) => kinds[k]),
])
const missing = computed(() => features.value.flatMap((f) => props.lacks[f] ?? []))
type Kind = NonNullable<Schemas['Reader']['takes']>[number]
const kinds: Record<Kind, string> = { phone: 'phones', 'QR pass': 'QR passes', plate: 'plates' }
const more = ref(false)
function take(kind: Kind, on: boolean) {
  const r = reader.value
  r.takes = (Object.keys(kinds) as Kind[]).filter((k) => (k === kind ? on : r.takes?.includes(k)))
  if (!r.takes.length) delete r.takes
}
function connect(by: string) {
  const r = reader.value
  if (by === 'osdp') Object.assign(r, { connection: 'osdp', baud: 9600 })
  else {
    delete r.connection
    delete r.address
    delete r.baud
  }
}
const query = useComputed(
  'formats',
  () => [],
  (signal) => ask(api.GET('/api/formats', { signal })),
  more,
)
const formats = computed(() =>
  (query.data.value ?? []).filter((f) => f.taken || reader.value.formats?.includes(f.name)),
)
function format(name: string, on: boolean) {
  const r = reader.value
  const list = (r.formats ?? []).filter((f) => f !== name)
  if (on) list.push(name)
  if (list.length) r.formats = list
  else delete r.formats
}
function flag(k: 'silent' | 'dark' | 'enrols', on: boolean) {
  if (on) reader.value[k] = true
  else delete reader.value[k]
}
const on = (e: Event) => (e.target as HTMLInputElement).checked
const bauds = [9600, 19200, 38400, 57600, 115200, 230400]
const said = computed(() =>
  [
    reader.value.connection === 'osdp'
      ? `OSDP, address ${reader.value.address ?? 0}, ${reader.value.baud ?? 9600} baud`
      : 'Wiegand',
    reader.value.formats?.length ? reader.value.formats.join(', ') : 'all card formats',
    reader.value.silent ? 'silent' : '',
    reader.value.dark ? 'dark' : '',
    reader.value.enrols ? 'for enrolment' : '',
  ]
    .filter(Boolean)
    .join(' · '),
)
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <label class="flex items-center gap-1.5"
      ><input v-model="reader.keypad" type="checkbox" /> keypad{{
        props.side === 'in' && !car ? ' on the way in' : ''
      }}</label
    >
    <label v-for="(w, k) in kinds" :key="k" class="flex items-center gap-1.5"
      ><input type="checkbox" :checked="reader.takes?.includes(k)" @change="take(k, on($event))" /> {{ w }}</label
    >
    <button
      type="button"
      class="btn btn-quiet ml-auto px-1 py-0 text-[12px]"
      :aria-expanded="more"
      @click="more = !more"
    >
      {{ more ? 'Less' : said }}
    </button>
  </div>
  <p v-for="m in missing" :key="m" class="text-[12px] font-semibold text-wine">
    {{ m }}. <RouterLink class="underline" to="/build">Update it</RouterLink>
  </p>
  <div v-if="more" class="mt-2 grid grid-cols-3 gap-3 rounded-md bg-lime p-2.5 max-sm:grid-cols-1">
    <FormField v-slot="f" of="Reader" field="connection" :path="`${side}.connection`">
      <select
        v-bind="f.bind"
        class="field"
        :value="reader.connection ?? 'wiegand'"
        @change="connect(($event.target as HTMLSelectElement).value)"
      >
        <option value="wiegand">Wiegand</option>
        <option value="osdp">OSDP on RS-485</option>
      </select>
    </FormField>
    <template v-if="reader.connection === 'osdp'">
      <FormField v-slot="f" of="Reader" field="address" :path="`${side}.address`"
        ><input
          v-bind="f.bind"
          class="field font-mono"
          type="number"
          :value="reader.address ?? 0"
          @change="reader.address = Number(($event.target as HTMLInputElement).value) || undefined"
      /></FormField>
      <FormField v-slot="f" of="Reader" field="baud" :path="`${side}.baud`">
        <select v-model.number="reader.baud" v-bind="f.bind" class="field font-mono">
          <option v-for="b in bauds" :key="b" :value="b">{{ b }}</option>
        </select>
      </FormField>
    </template>
    <fieldset class="col-span-3 max-sm:col-span-1">
      <legend class="label">Card formats · none ticked: all that are listed</legend>
      <div class="flex flex-wrap gap-x-4">
        <label v-for="x in formats" :key="x.name" class="flex items-center gap-1.5"
          ><input type="checkbox" :checked="reader.formats?.includes(x.name)" @change="format(x.name, on($event))" />
          {{ x.name }}</label
        >
      </div>
    </fieldset>
    <div class="col-span-3 flex flex-wrap gap-x-4 max-sm:col-span-1">
      <label class="flex items-center gap-1.5"
        ><input type="checkbox" :checked="reader.silent" @change="flag('silent', on($event))" /> no sound</label
      >
      <label class="flex items-center gap-1.5"
        ><input type="checkbox" :checked="reader.dark" @change="flag('dark', on($event))" /> no light at rest</label
      >
      <label class="flex items-center gap-1.5"
        ><input type="checkbox" :checked="reader.enrols" @change="flag('enrols', on($event))" /> new cards are enrolled
        here</label
      >
      <span class="note">{{
        car ? 'This reader is in a car: it releases floors.' : 'This reader serves a door.'
      }}</span>
    </div>
  </div>
</template>
