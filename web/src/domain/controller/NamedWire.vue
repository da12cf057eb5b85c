<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** A named input or output: its name, what it does, how it is wired, and for which doors. */
const props = defineProps<{ id: number; kind: 'input' | 'output'; controller?: number; at?: string }>()
const emit = defineEmits<{ done: [] }>()
/** An input or an output: what both have, and what each has of its own. */
type Wire = Omit<Schemas['Input'], 'use' | 'contact'> & {
  use: Schemas['Input']['use'] | Schemas['Output']['use']
  contact: Schemas['Input']['contact']
  when: Schemas['Output']['when']
  emergencyId?: number
}
const many = props.kind === 'input' ? 'inputs' : 'outputs'

const edit = useSheet<Wire>({
  kind: props.kind,
  id: props.id,
  name: (w) => w.name,
  load: async (signal) =>
    props.id
      ? ((await fetchObject(props.kind, props.id, signal)) as unknown as { rev: number; value: Wire })
      : {
          rev: 0,
          value: {
            id: 0,
            name: '',
            controllerId: props.controller!,
            at: props.at!,
            doorIds: [],
            ...(props.kind === 'input' ? { use: 'sense', contact: 'no' } : { use: 'other', when: 'hand' }),
          } as unknown as Wire,
        },
  store: (value, rev) => save(value, rev) as unknown as Promise<{ rev: number; value: Wire }>,
  added: () => emit('done'),
})
function save(value: Wire, rev: number) {
  const path = { path: { id: props.id } }
  if (many === 'inputs')
    return props.id
      ? ask(api.PUT('/api/inputs/{id}', { params: path, body: { rev, value: value as Schemas['Input'] } }))
      : ask(api.POST('/api/inputs', { body: value as Schemas['Input'] }))
  return props.id
    ? ask(api.PUT('/api/outputs/{id}', { params: path, body: { rev, value: value as Schemas['Output'] } }))
    : ask(api.POST('/api/outputs', { body: value as Schemas['Output'] }))
}
const { draft } = edit
const of = computed(() => (props.kind === 'input' ? 'Input' : 'Output'))
const uses: Record<string, Record<string, string>> = {
  input: { sense: 'is told, and free to use', fire: 'fire release: frees doors', lockdown: 'lockdown: bars doors' },
  output: { sounder: 'a sounder', lamp: 'a lamp', siren: 'a siren', other: 'something else' },
}
const whens = {
  hand: 'only when tried',
  alarm: 'a door is forced or held open',
  warning: 'a door is held open, or soon will be',
  released: 'a door is released',
}
const ports = useComputed(
  'ports',
  () => [draft.value?.controllerId ?? 0],
  (signal) =>
    ask(api.GET('/api/controllers/{id}/ports', { params: { path: { id: draft.value!.controllerId } }, signal })),
  () => !!draft.value?.controllerId,
)
const doors = computed(() => (ports.data.value ?? []).filter((p) => p.door).map((p) => ({ id: p.door, name: p.name })))
function tick(id: number, on: boolean) {
  const d = draft.value!
  d.doorIds = on ? [...d.doorIds, id] : d.doorIds.filter((x) => x !== id)
}
const starts = computed(() => props.kind === 'input' && draft.value?.use !== 'sense')
const forDoors = computed(() =>
  props.kind === 'input' ? starts.value && !draft.value?.emergencyId : draft.value?.when !== 'hand',
)
/** What was made ready, or the doors of its own controller. */
const emergency = computed({
  get: () => draft.value!.emergencyId ?? 0,
  set: (id: number) => {
    if (!id) return void delete draft.value!.emergencyId
    draft.value!.emergencyId = id
    draft.value!.doorIds = []
  },
})
</script>

<template>
  <div v-if="draft" class="card space-y-2.5 p-3 text-[13px]">
    <FormField v-slot="f" :of="of" field="name"
      ><input v-model="draft.name" v-bind="f.bind" class="field py-1" :autofocus="!id"
    /></FormField>
    <FormField v-slot="f" :of="of" field="use">
      <select v-model="draft.use" v-bind="f.bind" class="field py-1">
        <option v-for="(w, k) in uses[kind]" :key="k" :value="k">{{ w }}</option>
      </select>
    </FormField>
    <template v-if="kind === 'input'">
      <FormField v-slot="f" of="Input" field="contact">
        <select v-model="draft.contact" v-bind="f.bind" class="field py-1">
          <option value="no">normally open</option>
          <option value="nc">normally closed</option>
        </select>
      </FormField>
      <label class="flex items-center gap-1.5"
        ><input v-model="draft.supervised" type="checkbox" /> supervised by two resistors</label
      >
    </template>
    <FormField v-else v-slot="f" of="Output" field="when">
      <select v-model="draft.when" v-bind="f.bind" class="field py-1">
        <option v-for="(w, k) in whens" :key="k" :value="k">{{ w }}</option>
      </select>
    </FormField>
    <FormField v-if="starts" v-slot="f" of="Input" field="emergencyId"
      ><ObjectPicker
        :id="f.id"
        v-model="emergency"
        :invalid="f.invalid"
        kind="emergency"
        label="Starts"
        :besides="[{ id: 0, name: 'what is ticked below, here only' }]"
    /></FormField>
    <fieldset v-if="forDoors">
      <legend class="label mb-0.5">Doors · none ticked: all of this controller</legend>
      <label v-for="d in doors" :key="d.id" class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          :checked="draft.doorIds.includes(d.id)"
          @change="tick(d.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ d.name }}</label
      >
    </fieldset>
    <div class="flex gap-2">
      <button class="btn btn-amber px-2 py-1" :disabled="!edit.dirty.value || edit.busy.value" @click="edit.save()">
        {{ id ? 'Save' : 'Add it' }}
      </button>
      <button v-if="edit.dirty.value && id" class="btn px-2 py-1" @click="edit.discard()">Discard</button>
      <button v-if="!id" class="btn px-2 py-1" @click="emit('done')">Cancel</button>
    </div>
    <p v-if="edit.problem.value" role="alert" class="font-semibold text-wine">{{ edit.problem.value }}</p>
  </div>
</template>
