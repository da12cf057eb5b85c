<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { lockNames } from '../../words'

/** The lock as data, the contact, and what asks to leave. */
const door = defineModel<Schemas['Door']>({ required: true })
const wiring = { nc: 'normally closed', no: 'normally open', none: 'not fitted' }
const exits = {
  button: 'a button',
  motion: 'a motion sensor',
  lock: 'a switch in the handle or bar',
  touchless: 'touchless, at the reader',
}
const gauges = [12, 14, 16, 18, 20, 22, 24]

/** A magnetic lock lets go without power; without a contact only the time can lock again. */
function fit() {
  const d = door.value
  if (d.lock === 'magnetic') d.failSafe = true
  if (d.contact === 'none') {
    d.relock = 'end'
    delete d.contactSupervised
  }
  if (d.exit === 'none') {
    delete d.exitSupervised
    delete d.exitKind
  }
}
function number(k: 'volts' | 'milliamps' | 'tolerance' | 'metres' | 'gauge', e: Event) {
  const v = Number((e.target as HTMLInputElement).value)
  if (v) door.value[k] = v
  else delete door.value[k]
}
function flag(k: 'fireDoor' | 'monitored' | 'contactSupervised' | 'exitSupervised', e: Event) {
  if ((e.target as HTMLInputElement).checked) door.value[k] = true
  else delete door.value[k]
}
const supply = computed({
  get: () => door.value.supplyId ?? 0,
  set: (v: number) => {
    if (v) door.value.supplyId = v
    else delete door.value.supplyId
  },
})
const none = [{ id: 0, name: 'not known' }]
</script>

<template>
  <div class="grid grid-cols-6 gap-3 border-t border-seam pt-3 max-sm:grid-cols-2">
    <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="lock" label="Lock">
      <select v-bind="f.bind" v-model="door.lock" class="field" @change="fit">
        <option v-for="(n, k) in lockNames" :key="k" :value="k">{{ n }}</option>
      </select>
    </FormField>
    <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="failSafe" label="Without power">
      <select v-bind="f.bind" v-model="door.failSafe" class="field">
        <option :value="false" :disabled="door.lock === 'magnetic'">locked (fail-secure)</option>
        <option :value="true">unlocked (fail-safe)</option>
      </select>
    </FormField>
    <details class="col-span-6 max-sm:col-span-2">
      <summary class="note">
        Lock data and supply{{
          door.milliamps ? ` · ${door.volts ? `${door.volts} V, ` : ''}${door.milliamps} mA` : ' · not entered'
        }}
      </summary>
      <div class="mt-2 grid grid-cols-4 gap-3 rounded-md bg-lime p-2.5 max-sm:grid-cols-2">
        <FormField v-for="k in ['volts', 'milliamps', 'tolerance'] as const" :key="k" v-slot="f" of="Door" :field="k"
          ><input
            v-bind="f.bind"
            class="field font-mono"
            type="number"
            :value="door[k] ?? ''"
            @change="number(k, $event)"
        /></FormField>
        <FormField v-slot="f" of="Door" field="supplyId">
          <ObjectPicker :id="f.id" v-model="supply" kind="supply" label="Fed by" :besides="none" :invalid="f.invalid" />
        </FormField>
        <FormField v-slot="f" of="Door" field="metres"
          ><input
            v-bind="f.bind"
            class="field font-mono"
            type="number"
            :value="door.metres ?? ''"
            @change="number('metres', $event)"
        /></FormField>
        <FormField v-slot="f" of="Door" field="gauge">
          <select v-bind="f.bind" class="field" :value="door.gauge ?? 0" @change="number('gauge', $event)">
            <option :value="0">not known</option>
            <option v-for="g in gauges" :key="g" :value="g">{{ g }}</option>
          </select>
        </FormField>
        <label class="flex items-center gap-1.5 self-end pb-1.5"
          ><input type="checkbox" :checked="door.fireDoor" @change="flag('fireDoor', $event)" /> fire door</label
        >
        <label class="flex items-center gap-1.5 self-end pb-1.5"
          ><input type="checkbox" :checked="door.monitored" @change="flag('monitored', $event)" /> lock is
          monitored</label
        >
      </div>
    </details>
    <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="contact" label="Door contact">
      <select v-bind="f.bind" v-model="door.contact" class="field" @change="fit">
        <option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option>
      </select>
      <label v-if="door.contact !== 'none'" class="mt-1 flex items-center gap-1.5 text-[13px]"
        ><input type="checkbox" :checked="door.contactSupervised" @change="flag('contactSupervised', $event)" /> contact
        supervised by two resistors</label
      >
    </FormField>
    <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="exit" label="Exit request">
      <select v-bind="f.bind" v-model="door.exit" class="field" @change="fit">
        <option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option>
      </select>
      <label v-if="door.exit !== 'none'" class="mt-1 flex items-center gap-1.5 text-[13px]"
        ><input type="checkbox" :checked="door.exitSupervised" @change="flag('exitSupervised', $event)" /> exit request
        supervised by two resistors</label
      >
    </FormField>
    <template v-if="door.exit !== 'none'">
      <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="exitKind">
        <select
          v-bind="f.bind"
          class="field"
          :value="door.exitKind ?? 'button'"
          @change="door.exitKind = ($event.target as HTMLSelectElement).value as 'button'"
        >
          <option v-for="(n, k) in exits" :key="k" :value="k">{{ n }}</option>
        </select>
      </FormField>
      <FormField v-slot="f" class="col-span-3 max-sm:col-span-2" of="Door" field="exitReleases" label="An exit request">
        <select v-bind="f.bind" v-model="door.exitReleases" class="field">
          <option :value="true">releases the lock for the exit time</option>
          <option :value="false">only excuses the opening; the lock has a handle inside</option>
        </select>
      </FormField>
    </template>
  </div>
</template>
