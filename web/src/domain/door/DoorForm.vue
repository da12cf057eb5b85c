<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import FirstCardForm from '../../ui/FirstCardForm.vue'
import FormField from '../../ui/FormField.vue'
import { useSite } from '../../core/site'
import { lockNames } from '../../words'

const door = defineModel<Schemas['Door']>({ required: true })
defineProps<{ id: number }>()
const site = useSite()

const ports = useComputed(
  'ports',
  () => [door.value.controllerId],
  (signal) =>
    ask(api.GET('/api/controllers/{id}/ports', { params: { path: { id: door.value.controllerId } }, signal })),
  () => door.value.controllerId > 0,
)
/** A new floor, above the others of the site that the door is at. */
async function newFloor(name: string) {
  const sites = site.overview!.sites
  const here = sites.find((s) => s.floors.some((f) => f.id === door.value.floorId)) ?? sites[0]
  return here && site.addFloor(here.id, name)
}
type Side = 'in' | 'out'
type Kind = NonNullable<Schemas['Reader']['takes']>[number]
const kinds = { phone: 'phones', 'QR pass': 'QR passes', plate: 'plates' }
const others = Object.keys(kinds) as Kind[]
const sides = computed<Side[]>(() => (door.value.out.fitted ? ['in', 'out'] : ['in']))
function take(side: Side, kind: Kind, on: boolean) {
  const r = door.value[side]
  r.takes = others.filter((k) => (k === kind ? on : r.takes?.includes(k)))
  if (!r.takes.length) delete r.takes
}
const wiring = { nc: 'normally closed', no: 'normally open', none: 'not fitted' }
const timings = ['unlock', 'extended', 'exitTime', 'heldOpen', 'preAlarm', 'forced'] as const
const relocks = {
  opening: 'on opening: stops a second person',
  closing: 'on closing: stops a leaf pulled open again',
  end: 'at the end of the time',
}

/** A magnetic lock lets go without power; without a contact only the time can lock again. */
function fit() {
  if (door.value.lock === 'magnetic') door.value.failSafe = true
  if (door.value.contact === 'none') door.value.relock = 'end'
}
</script>

<template>
  <div class="space-y-4 p-3.5">
    <div class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
      <FormField v-slot="f" of="Door" field="name"
        ><input v-model="door.name" v-bind="f.bind" class="field" :autofocus="!door.id"
      /></FormField>
      <FormField v-slot="f" of="Door" field="floorId">
        <ObjectPicker
          :id="f.id"
          v-model="door.floorId"
          kind="floor"
          label="Floor"
          :words="site.floorWords"
          :make="newFloor"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
      <FormField v-slot="f" of="Door" field="controllerId">
        <ObjectPicker
          :id="f.id"
          v-model="door.controllerId"
          kind="controller"
          label="Controller"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
      <FormField v-slot="f" of="Door" field="port">
        <select v-model.number="door.port" v-bind="f.bind" class="field">
          <option v-if="!ports.data.value?.some((p) => p.port === door.port)" :value="door.port">
            {{ door.port || 'none is free' }}
          </option>
          <option
            v-for="p in ports.data.value ?? []"
            :key="p.port"
            :value="p.port"
            :disabled="!!p.door && p.door !== id"
          >
            {{ p.port }}{{ p.door && p.door !== id ? ` · ${p.name}` : '' }}
          </option>
        </select>
      </FormField>
      <FormField v-slot="f" of="Door" field="planId">
        <ObjectPicker
          :id="f.id"
          v-model="door.planId"
          kind="plan"
          label="Passage plan"
          :invalid="f.invalid"
          :describedby="f.bind['aria-describedby']"
        />
      </FormField>
      <div class="grid grid-cols-2 gap-3">
        <FormField v-slot="f" of="Door" field="outside" label="Outside is"
          ><input v-model="door.outside" v-bind="f.bind" class="field" placeholder="Yard"
        /></FormField>
        <FormField v-slot="f" of="Door" field="inside" label="Inside is"
          ><input v-model="door.inside" v-bind="f.bind" class="field" placeholder="Lobby"
        /></FormField>
      </div>
    </div>
    <div class="grid grid-cols-6 gap-3 border-t border-seam pt-3">
      <fieldset class="col-span-6">
        <legend class="label mb-1">Readers</legend>
        <div class="flex flex-wrap gap-x-4 gap-y-1">
          <label class="flex items-center gap-1.5"
            ><input v-model="door.in.keypad" type="checkbox" /> keypad on the way in</label
          >
          <label class="flex items-center gap-1.5"
            ><input v-model="door.out.fitted" type="checkbox" /> reader on the way out</label
          >
          <label v-if="door.out.fitted" class="flex items-center gap-1.5"
            ><input v-model="door.out.keypad" type="checkbox" /> with keypad</label
          >
        </div>
        <div v-for="side in sides" :key="side" class="mt-1 flex flex-wrap gap-x-4 gap-y-1">
          <span class="text-ash">reader {{ side }} also takes</span>
          <label v-for="k in others" :key="k" class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              :checked="door[side].takes?.includes(k)"
              @change="take(side, k, ($event.target as HTMLInputElement).checked)"
            />
            {{ kinds[k as keyof typeof kinds] }}</label
          >
        </div>
      </fieldset>
      <FormField v-slot="f" class="col-span-3" of="Door" field="lock" label="Lock">
        <select v-bind="f.bind" v-model="door.lock" class="field" @change="fit">
          <option v-for="(n, k) in lockNames" :key="k" :value="k">{{ n }}</option>
        </select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" of="Door" field="failSafe" label="Without power">
        <select v-bind="f.bind" v-model="door.failSafe" class="field">
          <option :value="false" :disabled="door.lock === 'magnetic'">locked (fail-secure)</option>
          <option :value="true">unlocked (fail-safe)</option>
        </select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" of="Door" field="contact" label="Door contact">
        <select v-bind="f.bind" v-model="door.contact" class="field" @change="fit">
          <option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option>
        </select>
      </FormField>
      <FormField v-slot="f" class="col-span-3" of="Door" field="exit" label="Exit request">
        <select v-bind="f.bind" v-model="door.exit" class="field">
          <option v-for="(n, k) in wiring" :key="k" :value="k">{{ n }}</option>
        </select>
      </FormField>
      <FormField
        v-if="door.exit !== 'none'"
        v-slot="f"
        class="col-span-6"
        of="Door"
        field="exitReleases"
        label="An exit request"
      >
        <select v-bind="f.bind" v-model="door.exitReleases" class="field">
          <option :value="true">releases the lock for the exit time</option>
          <option :value="false">only excuses the opening; the lock has a handle inside</option>
        </select>
      </FormField>
    </div>
    <FirstCardForm v-model="door.firstCard" :plan-id="door.planId" />
    <div class="grid grid-cols-3 gap-3 border-t border-seam pt-3">
      <FormField v-for="k in timings" :key="k" v-slot="f" of="Door" :field="k">
        <input v-model.number="door[k]" v-bind="f.bind" type="number" class="field font-mono" />
      </FormField>
      <FormField v-slot="f" of="Door" field="relock" class="col-span-3">
        <select v-bind="f.bind" v-model="door.relock" class="field">
          <option v-for="(n, k) in relocks" :key="k" :value="k" :disabled="door.contact === 'none' && k !== 'end'">
            {{ n }}
          </option>
        </select>
      </FormField>
    </div>
  </div>
</template>
