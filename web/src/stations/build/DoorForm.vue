<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import FirstCardForm from '../../parts/FirstCardForm.vue'
import FormField from '../../parts/FormField.vue'
import { useSite } from '../../site'
import { lockNames } from '../../words'

const door = defineModel<Schemas['Door']>({ required: true })
const props = defineProps<{ fields: Record<string, string>; plans: Schemas['VersionedPlan'][]; controllers: Schemas['VersionedController'][] }>()
const site = useSite()

const ports = computed(() => {
  const c = props.controllers.find((x) => x.value.id === door.value.controllerId)
  return Array.from({ length: c?.value.ports ?? 4 }, (_, i) => i + 1)
})
/** Where the plan first goes free, to say the first card in real times. */
const start = computed(() => {
  const plan = props.plans.find((p) => p.value.id === door.value.planId)?.value
  const free = (plan?.week ?? []).flat().filter((s) => s.mode === 'free')
  return (free.find((s) => s.first) ?? free[0])?.start ?? 540
})
const wiring = { nc: 'normally closed', no: 'normally open', none: 'not fitted' }
const timings = [
  ['unlock', 'Unlock time'], ['extended', 'Extended unlock'], ['exitTime', 'Exit time'], ['heldOpen', 'Held open after'], ['preAlarm', 'Warning before'], ['forced', 'Forced after'],
] as const
const relocks = { opening: 'on opening: stops a second person', closing: 'on closing: stops a leaf pulled open again', end: 'at the end of the time' }

/** A magnetic lock lets go without power; without a contact only the time can lock again. */
function fit() {
  if (door.value.lock === 'magnetic') door.value.failSafe = true
  if (door.value.contact === 'none') door.value.relock = 'end'
}
</script>

<template>
  <div class="space-y-4 p-3.5">
    <div class="grid grid-cols-2 gap-3">
      <FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="door.name" class="field" :aria-invalid="f.invalid" :autofocus="!door.id" /></FormField>
      <FormField v-slot="f" label="Floor" :problem="fields.floorId">
        <select :id="f.id" v-model.number="door.floorId" class="field" :aria-invalid="f.invalid">
          <optgroup v-for="s in site.overview!.sites" :key="s.id" :label="s.name"><option v-for="x in s.floors" :key="x.id" :value="x.id">{{ x.name }}</option></optgroup>
        </select>
      </FormField>
      <FormField v-slot="f" label="Controller" :problem="fields.controllerId">
        <select :id="f.id" v-model.number="door.controllerId" class="field"><option v-for="c in controllers" :key="c.value.id" :value="c.value.id">{{ c.value.name }}</option></select>
      </FormField>
      <FormField v-slot="f" label="Port" :problem="fields.port">
        <select :id="f.id" v-model.number="door.port" class="field" :aria-invalid="f.invalid"><option v-for="p in ports" :key="p" :value="p">{{ p }}</option></select>
      </FormField>
      <FormField v-slot="f" label="Passage plan" :problem="fields.planId">
        <select :id="f.id" v-model.number="door.planId" class="field"><option v-for="p in plans" :key="p.value.id" :value="p.value.id">{{ p.value.name }}</option></select>
      </FormField>
      <div class="grid grid-cols-2 gap-3">
        <FormField v-slot="f" label="Outside is"><input :id="f.id" v-model="door.outside" class="field" placeholder="Yard" /></FormField>
        <FormField v-slot="f" label="Inside is"><input :id="f.id" v-model="door.inside" class="field" placeholder="Lobby" /></FormField>
      </div>
    </div>
    <div class="grid grid-cols-6 gap-3 border-t border-seam pt-3">
      <fieldset class="col-span-6">
        <legend class="label mb-1">Readers</legend>
        <div class="flex flex-wrap gap-x-4 gap-y-1">
          <label class="flex items-center gap-1.5"><input v-model="door.in.keypad" type="checkbox" /> keypad on the way in</label>
          <label class="flex items-center gap-1.5"><input v-model="door.out.fitted" type="checkbox" /> reader on the way out</label>
          <label v-if="door.out.fitted" class="flex items-center gap-1.5"><input v-model="door.out.keypad" type="checkbox" /> with keypad</label>
        </div>
      </fieldset>
      <FormField v-slot="f" class="col-span-3" label="Lock" :problem="fields.lock">
        <select :id="f.id" v-model="door.lock" class="field" @change="fit"><option v-for="(n, k) in lockNames" :key="k" :value="k">{{ n }}</option></select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" label="Without power" :problem="fields.failSafe">
        <select :id="f.id" v-model="door.failSafe" class="field"><option :value="false" :disabled="door.lock === 'magnetic'">locked (fail-secure)</option><option :value="true">unlocked (fail-safe)</option></select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" label="Door contact" :problem="fields.contact">
        <select :id="f.id" v-model="door.contact" class="field" @change="fit"><option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option></select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" label="Exit request" :problem="fields.exit">
        <select :id="f.id" v-model="door.exit" class="field"><option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option></select>
      </FormField>
      <FormField v-if="door.exit !== 'none'" v-slot="f" class="col-span-6" label="An exit request">
        <select :id="f.id" v-model="door.exitReleases" class="field"><option :value="true">releases the lock for the exit time</option><option :value="false">only excuses the opening; the lock has a handle inside</option></select>
      </FormField>
    </div>
    <FirstCardForm v-model="door.firstCard" :start="start" :fields="fields" />
    <div class="grid grid-cols-3 gap-3 border-t border-seam pt-3">
      <FormField v-for="[k, label] in timings" :key="k" v-slot="f" :label="label" unit="s" :problem="fields[k]">
        <input :id="f.id" v-model.number="door[k]" type="number" min="0" class="field font-mono" :aria-invalid="f.invalid" />
      </FormField>
      <FormField v-slot="f" label="Locks again" class="col-span-3" :problem="fields.relock">
        <select :id="f.id" v-model="door.relock" class="field"><option v-for="(n, k) in relocks" :key="k" :value="k" :disabled="door.contact === 'none' && k !== 'end'">{{ n }}</option></select>
      </FormField>
    </div>
  </div>
</template>
