<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import { button } from '../../domain/elevator/useShaft'
import { useAttempt } from '../../ui/attempt'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { usePreview } from '../../ui/usePreview'

/** An elevator is made by answering: where its reader is, and which floors it serves, the lowest first. */
const site = useSite()
const route = useRoute()
const router = useRouter()
type Row = { floorId: number; name: string; level: number; on: boolean }
const name = ref('')
const controllerId = ref(Number(route.query.controller ?? 0))
const planId = ref(0)
const flags = ref({ second: false, keypad: false, buttons: false, freight: false })
const rows = ref<Row[]>([])
const { attempt, busy, problem, fields } = useAttempt()

const unit = computed(() => site.units.find((u) => u.id === controllerId.value))
const place = computed(() => site.overview?.sites.find((s) => s.id === unit.value?.siteId) ?? site.overview?.sites[0])
watch(
  place,
  (s) =>
    (rows.value = [...(s?.floors ?? [])]
      .sort((a, b) => a.level - b.level)
      .map((f) => ({ floorId: f.id, name: f.name, level: f.level, on: true }))),
  { immediate: true },
)
const lowest = computed(() => rows.value.filter((r) => r.on))
const shown = computed(() => [...rows.value].reverse())
const relay = (r: Row) => lowest.value.indexOf(r) + 1
/** One more floor above, or below as a garage is. */
function more(below: boolean) {
  const levels = rows.value.map((r) => r.level)
  const level = below ? Math.min(1, ...levels) - 1 : Math.max(-1, ...levels) + 1
  const fresh = { floorId: 0, name: `Level ${level}`, level, on: true }
  rows.value = below ? [fresh, ...rows.value] : [...rows.value, fresh]
}
const asked = computed<Schemas['MakeElevator']>(() => ({
  name: name.value,
  controllerId: controllerId.value,
  ...(planId.value ? { planId: planId.value } : {}),
  floors: lowest.value.map((r) => (r.floorId ? { floorId: r.floorId } : { name: r.name, level: r.level })),
  ...flags.value,
}))
const wrong = ref('')
const words = usePreview(
  () => (controllerId.value ? { ...asked.value, preview: true } : undefined),
  async (body, signal) => {
    try {
      wrong.value = ''
      return await ask(api.POST('/api/elevators', { body, signal }))
    } catch (e) {
      if (!signal.aborted) wrong.value = (e as Error).message
      throw e
    }
  },
)
const make = () =>
  attempt(async () => {
    const made = await ask(api.POST('/api/elevators', { body: asked.value }))
    await router.push(`/build/doors/${made.id}`)
  })
const none = [{ id: 0, name: 'the first that asks for a card' }]
const floorWrong = computed(() => Object.entries(fields.value).find(([p]) => p.startsWith('floors'))?.[1])
</script>

<template>
  <SheetFrame
    title="New elevator"
    under="How many floors, and where its reader is; relays and expanders follow by themselves"
  >
    <form class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3 max-xl:grid-cols-1" @submit.prevent="make">
      <section class="card space-y-3 self-start p-3.5" aria-label="The car">
        <FormField v-slot="f" label="Name" :problem="fields.name"
          ><input v-model="name" v-bind="f.bind" class="field" autofocus maxlength="80" placeholder="Front elevator"
        /></FormField>
        <FormField v-slot="f" label="Controller that its reader is at" :problem="fields.controllerId">
          <ObjectPicker
            :id="f.id"
            v-model="controllerId"
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
            ><input v-model="flags.buttons" type="checkbox" /> its floor buttons are wired back: the log says who went
            where</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="flags.second" type="checkbox" /> a second reader is in the car</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="flags.keypad" type="checkbox" /> its readers have keypads</label
          >
          <label class="flex min-h-[26px] items-center gap-2"
            ><input v-model="flags.freight" type="checkbox" /> it carries goods</label
          >
        </div>
      </section>
      <section class="card self-start" aria-label="Floors">
        <div class="card-head">
          <h2>Floors</h2>
          <span class="note">{{ lowest.length }} served, the lowest has relay 1</span>
        </div>
        <p v-if="!controllerId" class="px-3.5 py-2.5 text-[13.5px] text-ash">
          Choose the controller; the floors of its site stand here.
        </p>
        <template v-else>
          <div class="flex gap-2 px-3.5 py-2">
            <button type="button" class="btn px-2.5 py-1" @click="more(false)">One more above</button>
            <button type="button" class="btn px-2.5 py-1" @click="more(true)">One more below, as a garage</button>
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
              <span class="note w-16 text-right font-mono text-[12px]">{{
                r.on ? `relay ${relay(r)}` : 'not served'
              }}</span>
            </div>
          </div>
        </template>
        <p v-if="floorWrong" data-wrong class="px-3.5 py-2 text-[12px] font-semibold text-wine">{{ floorWrong }}</p>
      </section>
      <div class="col-span-full space-y-2">
        <p v-if="wrong" role="alert" class="font-semibold text-wine">{{ wrong }}</p>
        <p v-else-if="words" role="status" class="border-l-4 border-amber py-0.5 pl-3">{{ words.words }}</p>
        <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
        <div class="flex gap-2">
          <button class="btn btn-amber" :disabled="busy || !controllerId || lowest.length < 2">
            Make the elevator
          </button>
          <button type="button" class="btn" @click="router.back()">Not now</button>
        </div>
      </div>
    </form>
    <template #aside>
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
