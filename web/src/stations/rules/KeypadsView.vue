<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSettings } from '../../core/settings'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import RulesTabs from './RulesTabs.vue'

const edit = useSettings('Rules')
const { draft, dirty, phase } = edit
const query = useComputed(
  'pins',
  () => [],
  (signal) => ask(api.GET('/api/pins', { signal })),
)
const locks = computed({
  get: () => draft.value!.pinLocks || 'keypad',
  set: (v: 'keypad' | 'card') => {
    if (v === 'card') draft.value!.pinLocks = v
    else delete draft.value!.pinLocks
  },
})
const pins = computed<Schemas['PINState'] | undefined>(() => query.data.value)
</script>

<template>
  <SheetFrame title="PINs and keypads" under="What holds at every reader and keypad">
    <RulesTabs />
    <StateBox
      v-if="!draft"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
    />
    <template v-if="draft">
      <p class="card mb-4 p-3.5">
        Which cards readers take, in which order and with which facility codes, is said in
        <RouterLink class="underline" to="/build/formats">Build, Card formats</RouterLink>:
        <b>{{ draft.cards.map((c) => c.format).join(', ') }}</b>.
      </p>
      <section class="card mb-4">
        <div class="card-head"><h2>PINs and keypads</h2></div>
        <div class="grid grid-cols-3 gap-3 p-3.5">
          <FormField v-slot="f" of="Settings" field="pinLength"
            ><input v-model.number="draft.pinLength" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="pinTries"
            ><input v-model.number="draft.pinTries" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="pinLock"
            ><input v-model.number="draft.pinLock" v-bind="f.bind" type="number" class="field font-mono"
          /></FormField>
          <FormField v-slot="f" of="Settings" field="pinLocks"
            ><select v-model="locks" v-bind="f.bind" class="field">
              <option value="keypad">the keypad</option>
              <option value="card">the card, at that controller</option>
            </select></FormField
          >
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
