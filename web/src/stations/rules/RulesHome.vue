<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import FormField from '../../parts/FormField.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'

const edit = useDraft<Schemas['Settings']>(() => ask(api.GET('/api/settings')), (value, rev) => ask(api.PUT('/api/settings', { body: { rev, value } })))
const { draft, dirty, busy, problem, fields } = edit
const pins = ref<Schemas['PINState']>()
const codes = ref('')
onMounted(async () => { void edit.reload(); pins.value = await ask(api.GET('/api/pins')) })

const standard = computed(() => draft.value?.cards.find((c) => c.format === '26-bit'))
const raw = computed(() => draft.value?.cards.some((c) => c.format === 'raw') ?? false)
watch(() => standard.value?.facilities, (f) => { const text = (f ?? []).join(', '); if (codes.value.split(/[ ,;]+/).filter(Boolean).join(', ') !== text) codes.value = text }, { immediate: true })
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
const wrong = computed(() => codes.value.split(/[ ,;]+/).filter(Boolean).find((x) => !/^\d+$/.test(x)))
</script>

<template>
  <SheetFrame title="Rules" under="What holds at every reader and keypad">
    <template v-if="draft">
      <section class="card mb-4">
        <div class="card-head"><h2>Cards that readers take</h2><span class="note">tried in this order</span></div>
        <div class="row items-start"><label class="flex w-56 items-center gap-2"><input type="checkbox" :checked="!!standard" @change="toggleStandard(($event.target as HTMLInputElement).checked)" /> 26-bit (SIA AC-01)</label>
          <FormField v-if="standard" v-slot="f" class="flex-1" label="Accepted facility codes" :problem="wrong ? `“${wrong}” is not a facility code; write numbers from 0 to 255` : fields['cards[0].facilities']"><input :id="f.id" v-model="codes" class="field w-72! font-mono" placeholder="none: all are accepted" :aria-invalid="f.invalid" @input="readCodes" /></FormField>
        </div>
        <div class="row"><label class="flex items-center gap-2"><input type="checkbox" :checked="raw" @change="toggleRaw(($event.target as HTMLInputElement).checked)" /> raw: the whole read is the number, for reads of other lengths</label></div>
        <p v-if="fields.cards" class="px-3.5 pb-2 text-wine">{{ fields.cards }}</p>
      </section>
      <section class="card mb-4">
        <div class="card-head"><h2>PINs and keypads</h2></div>
        <div class="grid grid-cols-4 gap-3 p-3.5">
          <FormField v-slot="f" label="Digits of a PIN" :problem="fields.pinLength"><input :id="f.id" v-model.number="draft.pinLength" type="number" class="field font-mono" :aria-invalid="f.invalid" /></FormField>
          <FormField v-slot="f" label="Wrong PINs that lock" :problem="fields.pinTries"><input :id="f.id" v-model.number="draft.pinTries" type="number" class="field font-mono" :aria-invalid="f.invalid" /></FormField>
          <FormField v-slot="f" label="The keypad, for" unit="min" :problem="fields.pinLock"><input :id="f.id" v-model.number="draft.pinLock" type="number" class="field font-mono" :aria-invalid="f.invalid" /></FormField>
          <FormField v-slot="f" label="PIN after the card within" unit="s" :problem="fields.cardWithPin"><input :id="f.id" v-model.number="draft.cardWithPin" type="number" class="field font-mono" :aria-invalid="f.invalid" /></FormField>
        </div>
        <p v-if="pins" class="note border-t border-seam px-3.5 py-2">{{ pins.people.length }} people have a PIN; {{ pins.possible.toLocaleString('en') }} are possible: <b class="text-ink">1 in {{ pins.people.length ? Math.floor(pins.possible / pins.people.length / 2).toLocaleString('en') : '—' }}</b> guesses would meet one, counting those under duress.</p>
      </section>
      <section class="card"><div class="card-head"><h2>This installation</h2></div><div class="p-3.5"><FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="draft.name" class="field w-80!" :aria-invalid="f.invalid" /></FormField></div></section>
    </template>
    <template #aside>
      <p v-if="dirty" class="card p-3 text-[13px]">Holds at every door; takes effect when sent to all controllers.</p>
      <SaveBar :dirty="dirty && !wrong" :busy="busy" :problem="problem" @save="edit.save" @discard="edit.discard" />
      <h2>Duress</h2>
      <p class="card p-3 text-[13px] leading-relaxed">A PIN whose last digit is one higher (9 becomes 0) opens the door as usual and raises a silent alarm in Watch.</p>
    </template>
  </SheetFrame>
</template>
