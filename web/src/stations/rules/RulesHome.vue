<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'

const edit = useSheet<Schemas['Settings']>({
  kind: 'settings',
  id: 0,
  name: () => 'Rules',
  load: (signal) => ask(api.GET('/api/settings', { signal })),
  store: (value, rev) => ask(api.PUT('/api/settings', { body: { rev, value } })),
  hinders: (): string => (wrong.value ? 'A facility code is not a number; mend it first.' : ''),
})
const { draft, dirty, fields, phase } = edit
const query = useComputed(
  'pins',
  () => [],
  (signal) => ask(api.GET('/api/pins', { signal })),
)
const pins = computed<Schemas['PINState'] | undefined>(() => query.data.value)
const codes = ref('')

const standard = computed(() => draft.value?.cards.find((c) => c.format === '26-bit'))
const raw = computed(() => draft.value?.cards.some((c) => c.format === 'raw') ?? false)
watch(
  () => standard.value?.facilities,
  (f) => {
    const text = (f ?? []).join(', ')
    if (
      codes.value
        .split(/[ ,;]+/)
        .filter(Boolean)
        .join(', ') !== text
    )
      codes.value = text
  },
  { immediate: true },
)
function readCodes() {
  const parts = codes.value.split(/[ ,;]+/).filter(Boolean)
  if (standard.value) standard.value.facilities = parts.map(Number).filter((n) => Number.isInteger(n) && n >= 0)
}
function toggleRaw(on: boolean) {
  draft.value!.cards = draft.value!.cards.filter((c) => c.format !== 'raw')
  if (on) draft.value!.cards.push({ format: 'raw', facilities: [] })
}
function toggleStandard(on: boolean) {
  draft.value!.cards = draft.value!.cards.filter((c) => c.format !== '26-bit')
  if (on) draft.value!.cards.unshift({ format: '26-bit', facilities: [] })
}
const wrong = computed(() =>
  codes.value
    .split(/[ ,;]+/)
    .filter(Boolean)
    .find((x) => !/^\d+$/.test(x)),
)
</script>

<template>
  <SheetFrame title="Rules" under="What holds at every reader and keypad">
    <StateBox
      v-if="!draft"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
    />
    <template v-if="draft">
      <section class="card mb-4">
        <div class="card-head">
          <h2>Cards that readers take</h2>
          <span class="note">tried in this order</span>
        </div>
        <div class="row items-start">
          <label class="flex w-56 items-center gap-2"
            ><input
              type="checkbox"
              :checked="!!standard"
              @change="toggleStandard(($event.target as HTMLInputElement).checked)"
            />
            26-bit (SIA AC-01)</label
          >
          <FormField
            v-if="standard"
            v-slot="f"
            class="flex-1"
            label="Accepted facility codes"
            :problem="
              wrong ? `“${wrong}” is not a facility code; write numbers from 0 to 255` : fields['cards[0].facilities']
            "
            ><input
              :id="f.id"
              v-model="codes"
              class="field w-72! font-mono"
              placeholder="none: all are accepted"
              :aria-invalid="f.invalid"
              @input="readCodes"
          /></FormField>
        </div>
        <div class="row">
          <label class="flex items-center gap-2"
            ><input type="checkbox" :checked="raw" @change="toggleRaw(($event.target as HTMLInputElement).checked)" />
            raw: the whole read is the number, for reads of other lengths</label
          >
        </div>
        <p v-if="fields.cards" class="px-3.5 pb-2 text-wine">{{ fields.cards }}</p>
      </section>
      <section class="card mb-4">
        <div class="card-head"><h2>PINs and keypads</h2></div>
        <div class="grid grid-cols-4 gap-3 p-3.5">
          <FormField v-slot="f" of="Settings" field="pinLength"
            ><input v-model.number="draft.pinLength" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="pinTries"
            ><input v-model.number="draft.pinTries" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="pinLock"
            ><input v-model.number="draft.pinLock" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="cardWithPin"
            ><input v-model.number="draft.cardWithPin" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
        </div>
        <p v-if="pins" class="note border-t border-seam px-3.5 py-2">
          {{ pins.count }} people have a PIN; {{ pins.possible.toLocaleString('en') }} are possible:
          <b class="text-ink"
            >1 in {{ pins.count ? Math.floor(pins.possible / pins.count / 2).toLocaleString('en') : '—' }}</b
          >
          guesses would meet one, counting those under duress.
        </p>
      </section>
      <section class="card">
        <div class="card-head"><h2>This installation</h2></div>
        <div class="p-3.5">
          <FormField v-slot="f" of="Settings" field="name"
            ><input v-model="draft.name" v-bind="f.bind" class="field w-80!"
          /></FormField>
        </div>
      </section>
    </template>
    <template #aside>
      <p v-if="dirty" class="card p-3 text-[13px]">Holds at every door; takes effect when sent to all controllers.</p>
      <SheetSave :sheet="edit" of="Settings" />
      <h2>Duress</h2>
      <p class="card p-3 text-[13px] leading-relaxed">
        A PIN whose last digit is one higher (9 becomes 0) opens the door as usual and raises a silent alarm in Watch.
      </p>
    </template>
  </SheetFrame>
</template>
