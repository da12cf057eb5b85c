<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useAll, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { sure } from '../../ui/sure'
import BuildTabs from './BuildTabs.vue'

/** Whether the locks of a supply get what they need: the sums, with their numbers. */
const site = useSite()
const { attempt, busy, problem, fields } = useAttempt()
const supplies = useAll('supply')
const query = useComputed(
  'power',
  () => [],
  (signal) => ask(api.GET('/api/power', { signal })),
)
const reports = computed<Schemas['Report'][]>(() => query.data.value ?? [])
const editing = ref<Schemas['Supply']>()
const rev = ref(0)
function open(id: number) {
  const v = supplies.data.value?.find((s) => s.value.id === id)
  if (v) {
    editing.value = { ...v.value }
    rev.value = v.rev
  }
}
function fresh() {
  rev.value = 0
  editing.value = { id: 0, name: '', siteId: site.overview!.sites[0]?.id ?? 0, volts: 24, milliamps: 3000, battery: 70 }
}
const save = () =>
  attempt(async () => {
    const value = editing.value!
    if (value.id)
      await ask(api.PUT('/api/supplies/{id}', { params: { path: { id: value.id } }, body: { rev: rev.value, value } }))
    else await ask(api.POST('/api/supplies', { body: value }))
    editing.value = undefined
  })
const remove = () =>
  attempt(async () => {
    const value = editing.value!
    if (
      !(await sure(
        `Remove ${value.name}?`,
        'Doors that it feeds have to name another first. History can bring it back.',
        'Remove it',
      ))
    )
      return
    await ask(api.DELETE('/api/supplies/{id}', { params: { path: { id: value.id }, query: { rev: rev.value } } }))
    editing.value = undefined
  })
</script>

<template>
  <SheetFrame title="Power" under="What each lock gets from its supply, and how long the battery lasts">
    <template #actions><button class="btn" @click="fresh">New supply</button></template>
    <BuildTabs />
    <StateBox
      v-if="!query.data.value"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="query.refetch"
      :rows="6"
    />
    <form v-if="editing" class="card mb-4 space-y-3 p-3.5" @submit.prevent="save">
      <div class="grid grid-cols-5 gap-3 max-md:grid-cols-2">
        <FormField v-slot="f" class="col-span-2" of="Supply" field="name" :problem="fields.name"
          ><input v-model="editing.name" v-bind="f.bind" class="field" autofocus
        /></FormField>
        <FormField v-slot="f" of="Supply" field="volts" :problem="fields.volts"
          ><input v-model.number="editing.volts" v-bind="f.bind" type="number" class="field font-mono"
        /></FormField>
        <FormField v-slot="f" of="Supply" field="milliamps" :problem="fields.milliamps"
          ><input v-model.number="editing.milliamps" v-bind="f.bind" type="number" class="field font-mono"
        /></FormField>
        <FormField v-slot="f" label="Battery" unit="Ah" :problem="fields.battery"
          ><input
            :id="f.id"
            :value="editing.battery / 10"
            type="number"
            step="0.1"
            min="0"
            class="field font-mono"
            @input="editing.battery = Math.round(Number(($event.target as HTMLInputElement).value) * 10)"
        /></FormField>
        <FormField v-slot="f" class="col-span-2" of="Supply" field="siteId" :problem="fields.siteId">
          <select v-model.number="editing.siteId" v-bind="f.bind" class="field">
            <option v-for="s in site.overview!.sites" :key="s.id" :value="s.id">{{ s.name }}</option>
          </select>
        </FormField>
      </div>
      <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
      <div class="flex gap-2">
        <button class="btn btn-amber" :disabled="busy">Save</button>
        <button type="button" class="btn" @click="editing = undefined">Cancel</button>
        <button v-if="editing.id" type="button" class="btn ml-auto" @click="remove">Remove</button>
      </div>
    </form>
    <p v-if="query.data.value && !reports.length && !editing" class="card p-4 text-ash">
      No supply is entered yet. With its voltage and current, and the cable to each lock, the sums are done here: what
      arrives at the lock, whether it is enough, and how long the battery lasts.
    </p>
    <section v-for="r in reports" :key="r.supplyId" class="card mb-4" :aria-label="r.name">
      <div class="card-head">
        <h2>{{ r.name }}</h2>
        <span class="flex items-center gap-3"
          ><b :class="r.enough ? 'text-kelp' : 'text-wine'">{{ r.enough ? 'enough' : 'not enough' }}</b
          ><button class="btn btn-quiet px-1 py-0" @click="open(r.supplyId)">Edit</button></span
        >
      </div>
      <p class="border-b border-seam px-3.5 py-2 font-mono text-[12px]">{{ r.words }}</p>
      <table v-if="r.locks.length" class="w-full text-[13px]">
        <thead>
          <tr class="text-left text-ash">
            <th scope="col" class="px-3.5 py-1.5 font-semibold">Lock of</th>
            <th scope="col" class="px-2 text-right font-semibold">At the lock</th>
            <th scope="col" class="px-2 text-right font-semibold">Needs</th>
            <th scope="col" class="px-3.5 font-semibold">The sum</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in r.locks" :key="l.doorId" class="border-t border-seam">
            <th scope="row" class="px-3.5 py-1.5 text-left font-semibold">
              <RouterLink class="hover:underline" :to="`/build/doors/${l.doorId}`">{{ l.name }}</RouterLink>
            </th>
            <td class="px-2 text-right font-mono" :class="l.known && !l.enough ? 'font-bold text-wine' : ''">
              {{ l.known ? `${l.atLock.toFixed(2)} V` : '—' }}
            </td>
            <td class="px-2 text-right font-mono">{{ l.least.toFixed(1) }} V</td>
            <td class="px-3.5 py-1.5" :class="l.known ? 'font-mono text-[12px]' : 'text-ash'">{{ l.words }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="p-3.5 text-ash">
        No door says that this supply feeds its lock; say it in the build of the door.
      </p>
    </section>
    <template #aside>
      <h2>How it is reckoned</h2>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Volts at the lock = volts of the supply − amps · 2 · metres · ohms per metre.</p>
        <p>
          Ohms are of solid copper at 20 °C, by the gauge of the wire (ASTM B258); stranded or warm wire has a little
          more.
        </p>
        <p>A lock works down to its tolerance, 10 % where nothing is said.</p>
        <p>The battery is reckoned with at 80 %, and with what draws at rest: fail-safe locks.</p>
      </div>
    </template>
  </SheetFrame>
</template>
