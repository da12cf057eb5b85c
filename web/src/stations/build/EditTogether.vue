<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { fields as said } from '../../api/fields'
import { useAttempt } from '../../ui/attempt'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { lockNames, many } from '../../words'

/** Several doors changed in one step: what is ticked is set; what it does stands beside it, door by door. */
const props = defineProps<{ ids: number[] }>()
const emit = defineEmits<{ close: []; done: [was: Schemas['VersionedDoor'][], words: string] }>()
const { attempt, busy, problem } = useAttempt()
type Set = Schemas['Together']
const numbers = ['unlock', 'extended', 'exitTime', 'heldOpen', 'preAlarm', 'forced', 'volts', 'milliamps'] as const
const usual: Record<(typeof numbers)[number], number> = {
  unlock: 5,
  extended: 15,
  exitTime: 5,
  heldOpen: 60,
  preAlarm: 15,
  forced: 2,
  volts: 24,
  milliamps: 350,
}
const set = ref<Set>({})
const shown = ref<Schemas['TogetherShown']>()
const touched = computed(() => (shown.value?.rows ?? []).filter((r) => r.words.length))
const wrong = computed(() => (shown.value?.rows ?? []).filter((r) => r.wrong))
const look = useDebounceFn(async () => {
  await attempt(async () => {
    shown.value = await ask(api.POST('/api/doors-together', { body: { ids: props.ids, set: clean() } }))
  })
}, 150)
const clean = (): Set => JSON.parse(JSON.stringify(set.value)) as Set
watch(set, () => void look(), { deep: true, immediate: true })
const toggle = <K extends keyof Set>(k: K, on: boolean, v: Set[K]) => {
  if (on) set.value[k] = v
  else delete set.value[k]
}
const on = (e: Event) => (e.target as HTMLInputElement).checked
const apply = () =>
  attempt(async () => {
    const r = await ask(api.POST('/api/doors-together', { body: { ids: props.ids, set: clean(), really: true } }))
    emit('done', r.was, `${many(r.was.length, 'door', 'doors')} changed.`)
  })
/** What is one of a few; nothing chosen leaves it as it is. */
const choices = [
  {
    key: 'relock',
    title: 'Locks again',
    options: { opening: 'on opening', closing: 'on closing', end: 'at the end of the time' },
  },
  { key: 'lock', title: 'Lock', options: lockNames },
  { key: 'failSafe', title: 'Without power', options: { false: 'fail-secure', true: 'fail-safe' } },
  { key: 'outOfUse', title: 'Use', options: { false: 'in use', true: 'out of use' } },
] as const
function choose(key: (typeof choices)[number]['key'], v: string) {
  const truth = { true: true, false: false }[v]
  toggle(key, v !== '', (truth ?? v) as never)
}
const id = (k: 'planId' | 'floorId' | 'supplyId' | 'like') =>
  computed({ get: () => set.value[k] ?? 0, set: (v: number) => toggle(k, v > 0, v) })
const [plan, floor, supply, like] = [id('planId'), id('floorId'), id('supplyId'), id('like')]
const asIs = [{ id: 0, name: 'as it is' }]
const formats = computed({
  get: () => set.value.formats?.join(', ') ?? '',
  set: (v: string) => {
    const list = v
      .split(/[,;]/)
      .map((x) => x.trim())
      .filter(Boolean)
    toggle('formats', v.trim() !== '', list)
  },
})
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center overflow-auto p-6">
      <DialogPanel
        class="grid max-h-full w-[860px] grid-cols-[1fr_340px] gap-5 overflow-hidden rounded-lg bg-plaster p-6 max-md:block"
      >
        <div class="overflow-auto">
          <DialogTitle as="h1">Edit {{ many(ids.length, 'door', 'doors') }} together</DialogTitle>
          <p class="note mb-3">What you tick is set at each of them; the rest stays as it is.</p>
          <div class="grid grid-cols-2 gap-x-4 gap-y-2 text-[13px]">
            <div v-for="k in numbers" :key="k" class="flex items-center gap-2">
              <label class="flex flex-1 items-center gap-1.5"
                ><input type="checkbox" :checked="set[k] !== undefined" @change="toggle(k, on($event), usual[k])" />
                {{ said[`Door.${k}`]!.title }}</label
              >
              <input
                v-if="set[k] !== undefined"
                v-model.number="set[k]"
                type="number"
                class="field w-20! py-0.5 font-mono"
                :aria-label="`${said[`Door.${k}`]!.title} for all`"
              /><span class="w-6 text-ash">{{ said[`Door.${k}`]!.unit }}</span>
            </div>
            <label v-for="c in choices" :key="c.key" class="flex items-center gap-2"
              >{{ c.title }}
              <select
                class="field py-0.5"
                :value="set[c.key] === undefined ? '' : String(set[c.key])"
                @change="choose(c.key, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">as it is</option>
                <option v-for="(w, k) in c.options" :key="k" :value="k">{{ w }}</option>
              </select></label
            >
          </div>
          <div class="mt-3 grid grid-cols-2 gap-3 text-[13px]">
            <div>
              <span class="label">Passage plan</span
              ><ObjectPicker v-model="plan" kind="plan" label="Plan for all" :besides="asIs" />
            </div>
            <div>
              <span class="label">Floor</span
              ><ObjectPicker v-model="floor" kind="floor" label="Floor for all" :besides="asIs" />
            </div>
            <div>
              <span class="label">Fed by</span
              ><ObjectPicker v-model="supply" kind="supply" label="Supply for all" :besides="asIs" />
            </div>
            <div>
              <span class="label">The same as</span
              ><ObjectPicker v-model="like" kind="door" label="Door to copy" :besides="asIs" />
            </div>
            <label class="block"
              ><span class="label">Card formats of the readers</span>
              <input v-model="formats" class="field py-1" placeholder="as they are"
            /></label>
            <label class="block"
              ><span class="label">Names by pattern</span>
              <input
                class="field py-1 font-mono"
                :value="set.names ?? ''"
                placeholder="{c} door {p}"
                @input="
                  toggle(
                    'names',
                    !!($event.target as HTMLInputElement).value.trim(),
                    ($event.target as HTMLInputElement).value,
                  )
                "
            /></label>
          </div>
          <p class="note mt-1 text-[12px]">{n} counts, {p} is the port, {c} the controller, {f} the floor.</p>
        </div>
        <div class="flex min-h-0 flex-col">
          <h2 class="mb-1">What it does</h2>
          <ul class="card min-h-32 flex-1 overflow-auto text-[13px]" aria-label="What it does">
            <li v-if="!touched.length && !wrong.length" class="p-3 text-ash">Nothing yet.</li>
            <li v-for="r in shown?.rows.filter((x) => x.words.length || x.wrong)" :key="r.id" class="row block">
              <b>{{ r.name }}</b>
              <span v-for="w in r.words" :key="w" class="block text-ash">{{ w }}</span>
              <span v-if="r.wrong" class="block font-semibold text-wine">{{ r.wrong }}</span>
            </li>
          </ul>
          <p v-if="problem" role="alert" class="mt-2 font-semibold text-wine">{{ problem }}</p>
          <div class="mt-3 flex gap-2">
            <button class="btn btn-amber" :disabled="busy || !touched.length || wrong.length > 0" @click="apply">
              Change {{ many(touched.length, 'door', 'doors') }}
            </button>
            <button class="btn" @click="emit('close')">Cancel</button>
          </div>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
