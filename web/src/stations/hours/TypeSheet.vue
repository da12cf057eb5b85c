<script setup lang="ts">
import { onMounted } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import FormField from '../../parts/FormField.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { useConsequence } from '../../parts/consequence'
import { sure } from '../../parts/sure'
import EffectCard from '../../parts/EffectCard.vue'
import { typeWords } from './types'

const route = useRoute()
const router = useRouter()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }
const edit = useDraft<Schemas['HolidayType']>(
  async () => (id ? ask(api.GET('/api/holiday-types/{id}', { params: path })) : { rev: 0, value: { id: 0, name: '', rank: 15, plans: 'default mode' as const, schedules: 'as weekday' as const } }),
  (value, rev) => (id ? ask(api.PUT('/api/holiday-types/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/holiday-types', { body: value }))),
  save,
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const effect = useConsequence(() => (id && dirty.value ? { type: draft.value } : undefined))
onMounted(edit.reload)
async function save() {
  if ((await edit.save()) && !id) void router.replace(`/hours/types/${stored.value!.value.id}`)
}
async function remove() {
  if (!(await sure(`Remove the type ${stored.value!.value.name}?`, 'History can bring it back.', 'Remove it'))) return
  try {
    await ask(api.DELETE('/api/holiday-types/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/hours/holidays')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const plans = { 'default mode': ['Doors stay in their default mode', 'A door that would go free stays on card, or whatever its plan says where nothing is painted.'], 'as weekday': ['Doors do as on the weekday', 'A Thursday stays a Thursday: what goes free goes free.'] } as const
const schedules = { 'as weekday': ['Cards work', 'People come in at their usual hours.'], closed: ['Nobody, not even with a card', 'Schedules are closed. Those that must run on, such as the cleaners’, say so in their own row.'] } as const
</script>

<template>
  <SheetFrame :title="draft?.name || 'New holiday type'">
    <template #under>Holiday type: what a sort of holiday means where a plan or a schedule has no answer of its own</template>
    <template #actions><button class="btn" @click="router.push('/hours/holidays')">All holidays</button><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <form v-if="draft && !missing" class="card max-w-[760px] space-y-4 p-4" @submit.prevent="save">
      <div class="grid grid-cols-[1fr_120px] gap-4">
        <FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="draft.name" class="field" :aria-invalid="f.invalid" :autofocus="!id" /></FormField>
        <FormField v-slot="f" label="Rank" :problem="fields.rank"><input :id="f.id" v-model.number="draft.rank" type="number" min="0" max="1000" class="field font-mono" :aria-invalid="f.invalid" /></FormField>
      </div>
      <p class="note -mt-2 text-[12.5px]">Two holidays on one date: the higher rank decides, and both are shown.</p>
      <fieldset v-for="[label, field, choices] in [['What plans do', 'plans', plans], ['What schedules do', 'schedules', schedules]] as const" :key="field">
        <legend class="label mb-1">{{ label }}</legend>
        <div class="grid grid-cols-2 gap-3" role="radiogroup" :aria-label="label">
          <button v-for="(words, k) in choices" :key="k" type="button" role="radio" :aria-checked="draft[field] === k" class="rounded-lg border p-3 text-left" :class="draft[field] === k ? 'border-ink bg-mode-card/30 outline-1 outline-ink' : 'border-seam hover:bg-lime'" @click="(draft as Record<string, unknown>)[field] = k"><b class="block">{{ words[0] }}</b><span class="note text-[12.5px]">{{ words[1] }}</span></button>
        </div>
      </fieldset>
      <p class="border-l-4 border-amber py-0.5 pl-3">{{ typeWords(draft) }}</p>
    </form>
    <template #aside>
      <template v-if="dirty && id"><h2>What this edit does</h2><EffectCard :effect="effect" none="Nothing differs in the next 13 months." /></template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" :save-label="id ? 'Save' : 'Add the type'" @save="save" @discard="id ? edit.discard() : edit.leave('/hours/holidays')" />
      <UsedBy v-if="id" :id="id" none="No holiday is of this type." />
    </template>
  </SheetFrame>
</template>
