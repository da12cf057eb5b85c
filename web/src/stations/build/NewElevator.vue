<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import { fields as said } from '../../api/fields'
import { useSheet } from '../../core/sheet'
import { useSite } from '../../core/site'
import { button } from '../../domain/elevator/useShaft'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import { usePreview } from '../../ui/usePreview'

/** An elevator is made by answering: where its reader is, and which floors it serves, the lowest first. */
const site = useSite()
const route = useRoute()
const router = useRouter()
type Row = { floorId: number; name: string; level: number; on: boolean }
type Answers = Omit<Schemas['MakeElevator'], 'floors' | 'preview'> & { rows: Row[] }
let made = 0
const edit = useSheet<Answers>({
  kind: 'elevator',
  id: 0,
  name: (x) => x.name,
  load: () =>
    Promise.resolve({
      rev: 0,
      value: { name: '', controllerId: Number(route.query.controller ?? 0), planId: 0, rows: [] },
    }),
  store: async (value) => {
    made = (await ask(api.POST('/api/elevators', { body: asked(value) }))).id
    return { rev: 0, value }
  },
  added: () => void router.push(`/build/doors/${made}`),
})
edit.place((p) => /^(name|controllerId|planId|floors)\b/.test(p))
const { draft, fields } = edit

const place = computed(() => {
  const unit = site.units.find((u) => u.id === draft.value?.controllerId)
  return site.overview?.sites.find((s) => s.id === unit?.siteId)
})
watch(
  place,
  (s) => {
    if (!s || draft.value!.rows.some((r) => s.floors.some((f) => f.id === r.floorId))) return
    draft.value!.rows = [...s.floors]
      .sort((a, b) => a.level - b.level)
      .map((f) => ({ floorId: f.id, name: f.name, level: f.level, on: true }))
  },
  { immediate: true },
)
const rows = computed(() => draft.value?.rows ?? [])
const lowest = computed(() => rows.value.filter((r) => r.on))
const shown = computed(() => [...rows.value].reverse())
const relay = (r: Row) => lowest.value.indexOf(r) + 1
/** One more floor above, or below as a garage is. */
function more(below: boolean) {
  const levels = rows.value.map((r) => r.level)
  const level = below ? Math.min(1, ...levels) - 1 : Math.max(-1, ...levels) + 1
  const fresh = { floorId: 0, name: `Level ${level}`, level, on: true }
  draft.value!.rows = below ? [fresh, ...rows.value] : [...rows.value, fresh]
}
/** So many floors, from the lowest: those that are there, then new ones above. */
function serve(n: number) {
  if (!(n >= 0)) return
  const last = rows.value.findLastIndex((r) => r.floorId)
  draft.value!.rows = rows.value.slice(0, Math.max(last + 1, n)).map((r, i) => ({ ...r, on: i < n }))
  while (rows.value.length < Math.min(n, most)) more(false)
}
const most = said['Stop.relay']?.max ?? 0
const asked = ({ rows, ...rest }: Answers): Schemas['MakeElevator'] => ({
  ...rest,
  floors: rows.filter((r) => r.on).map((r) => (r.floorId ? { floorId: r.floorId } : { name: r.name, level: r.level })),
})
const wrong = ref('')
const words = usePreview(
  () => (draft.value?.controllerId ? { ...asked(draft.value), preview: true } : undefined),
  async (body, signal) => {
    try {
      wrong.value = ''
      return await ask(api.POST('/api/elevators', { body, signal }))
    } catch (e) {
      if (!signal.aborted) wrong.value = whatIsWrong(e)
      throw e
    }
  },
)
const planId = computed({ get: () => draft.value?.planId ?? 0, set: (v: number) => (draft.value!.planId = v) })
const none = [{ id: 0, name: 'the first that asks for a card' }]
const floorWrong = computed(() => Object.entries(fields.value).find(([p]) => p.startsWith('floors'))?.[1])
</script>

<template>
  <SheetFrame
    title="New elevator"
    under="How many floors, and where its reader is; relays and expanders follow by themselves"
  >
    <StateBox v-if="!draft" loading :error="edit.query.error.value" :rows="6" what="This elevator" />
    <form
      v-else
      class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3 max-xl:grid-cols-1"
      @submit.prevent="edit.save()"
    >
      <section class="card space-y-3 self-start p-3.5" aria-label="The car">
        <FormField v-slot="f" label="Name" :problem="fields.name"
          ><input
            v-model="draft.name"
            v-bind="f.bind"
            class="field"
            autofocus
            maxlength="80"
            placeholder="Front elevator"
        /></FormField>
        <FormField v-slot="f" label="Controller that its reader is at" :problem="fields.controllerId">
          <ObjectPicker
            :id="f.id"
            v-model="draft.controllerId"
            kind="controller"
            label="Controller"
            :invalid="f.invalid"
            :describedby="f.bind['aria-describedby']"
          />
        </FormField>
        <FormField v-slot="f" label="Passage plan" :problem="fields.planId">
          <ObjectPicker :id="f.id" v-model="planId" kind="plan" label="Passage plan" :besides="none" />
        </FormField>
        <div class="space-y-1 text-[13.5px]">
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="draft.buttons" type="checkbox" /> its floor buttons are wired back: the log says who went
            where</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="draft.second" type="checkbox" /> a second reader is in the car</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="draft.keypad" type="checkbox" /> its readers have keypads</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="draft.freight" type="checkbox" /> it carries goods</label
          >
        </div>
      </section>
      <section class="card self-start" aria-label="Floors">
        <div class="card-head">
          <h2>Floors</h2>
          <span v-if="draft.controllerId" class="note">{{ lowest.length }} served, the lowest has relay 1</span>
        </div>
        <p v-if="!draft.controllerId" class="px-3.5 py-2.5 text-[13.5px] text-ash">
          Choose the controller; the floors of its site stand here.
        </p>
        <template v-else>
          <div class="flex flex-wrap items-end gap-2 px-3.5 py-2">
            <FormField v-slot="f" label="How many floors"
              ><input
                v-bind="f.bind"
                class="field w-24! font-mono"
                type="number"
                min="2"
                :max="most"
                :value="lowest.length"
                @change="serve(Number(($event.target as HTMLInputElement).value))"
            /></FormField>
            <button type="button" class="btn px-2.5 py-1" @click="more(false)">One above</button>
            <button type="button" class="btn px-2.5 py-1" @click="more(true)">One below</button>
          </div>
          <div class="max-h-[420px] overflow-auto border-t border-seam">
            <div v-for="r in shown" :key="`${r.level} ${r.floorId}`" class="row py-1.5 text-[13.5px]">
              <label class="flex min-w-0 flex-1 items-center gap-2"
                ><input v-model="r.on" type="checkbox" /><span class="w-7 text-right font-mono">{{
                  button(r.level)
                }}</span>
                <span v-if="r.floorId" class="min-w-0 truncate">{{ r.name }}</span><span v-else class="sr-only"
                  >a new floor</span
                ></label
              >
              <input v-if="!r.floorId" v-model="r.name" class="field w-40! py-0.5" aria-label="Name of the new floor" />
              <span class="note w-20 shrink-0 text-right font-mono text-[12px] whitespace-nowrap">{{
                r.on ? `relay ${relay(r)}` : 'not served'
              }}</span>
            </div>
          </div>
        </template>
        <p v-if="floorWrong" data-wrong class="px-3.5 py-2 text-[12px] font-semibold text-wine">{{ floorWrong }}</p>
      </section>
      <p v-if="wrong && !edit.problem.value" role="alert" class="col-span-full font-semibold text-wine">{{ wrong }}</p>
      <p v-else-if="words" role="status" class="col-span-full border-l-4 border-amber py-0.5 pl-3">{{ words.words }}</p>
    </form>
    <template #aside>
      <SheetSave
        :sheet="edit as never"
        of="Elevator"
        fresh
        save-label="Make the elevator"
        :discard="() => edit.leave('/build/doors')"
      />
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>
          <b>From below upward.</b> The lowest floor, a garage too, has the first relay. Floors that it passes without
          stopping are not ticked and have none.
        </p>
        <p>
          <b>16 relays an expander</b>, 8 expanders at most: 128 floors. Floor 17 is the first relay of the second
          expander.
        </p>
        <p>After that it is sent, and you walk the floors in the car: each is tried alone.</p>
      </div>
    </template>
  </SheetFrame>
</template>
