<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref } from 'vue'
import { api, ask } from '../../api/client'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'
import { many } from '../../words'

/** Updates the firmware of controllers, one after another; their doors go on deciding. */
const props = defineProps<{ ids: number[] }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const releases = useQuery({
  queryKey: keys.computed('releases'),
  queryFn: ({ signal }) => ask(api.GET('/api/releases', { signal })),
})
const list = computed(() => [...(releases.data.value ?? [])].reverse())
const version = ref('')
const chosen = computed(() => list.value.find((r) => r.version === (version.value || list.value[0]?.version)))
const units = computed(() =>
  site.units.filter((u) =>
    props.ids.length ? props.ids.includes(u.id) : u.firmware && u.firmware !== chosen.value?.version,
  ),
)
/** Those that are to be updated, as they were when it began. */
const queue = ref<number[]>([])
const at = ref(-1)
const problem = ref('')
const running = computed(() => at.value >= 0 && at.value < queue.value.length)
let stopped = false
onScopeDispose(() => (stopped = true))
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms))
const unit = (id: number) => site.units.find((u) => u.id === id)

async function begin() {
  const to = chosen.value!
  queue.value = units.value.filter((u) => u.online && u.firmware !== to.version).map((u) => u.id)
  for (at.value = 0; at.value < queue.value.length && !stopped; at.value++) {
    const id = queue.value[at.value]!
    try {
      await ask(api.POST('/api/controllers/{id}/update', { params: { path: { id } }, body: { version: to.version } }))
    } catch (e) {
      problem.value = `${unit(id)?.name}: ${(e as Error).message}`
      break
    }
    const until = Date.now() + (to.seconds + 60) * 1000
    while (!stopped && Date.now() < until && unit(id)?.firmware !== to.version) {
      await wait(200)
      if (unit(id)?.online && unit(id)?.interrupted === to.version && !unit(id)?.updating) {
        problem.value = `${unit(id)!.name}: the update was interrupted; it goes on with ${unit(id)!.firmware}. Try again.`
        return
      }
    }
  }
}
function state(id: number): string {
  const u = unit(id)
  if (!u) return ''
  if (u.updating) return `${u.percent} %`
  if (u.firmware === chosen.value?.version) return 'done'
  if (!u.online) return 'offline: left out'
  return running.value && queue.value.indexOf(id) > at.value ? 'waits its turn' : `has ${u.firmware}`
}
const left = computed(() =>
  chosen.value ? units.value.filter((u) => u.online && u.firmware !== chosen.value!.version).length : 0,
)
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center overflow-auto p-6">
      <DialogPanel class="w-[520px] rounded-lg bg-plaster p-6">
        <DialogTitle as="h1">Update firmware</DialogTitle>
        <p v-if="!list.length" class="mt-3 text-ash">No release lies in the folder of the stand-ins.</p>
        <template v-else>
          <label class="label mt-3" for="release">Release</label>
          <select id="release" v-model="version" class="field" :disabled="running">
            <option v-for="(r, i) in list" :key="r.version" :value="i ? r.version : ''">
              {{ r.version }}{{ i ? '' : ' (newest)' }}
            </option>
          </select>
          <ul class="mt-2 list-disc pl-5 text-[13px]">
            <li v-for="n in chosen?.notes" :key="n">{{ n }}</li>
          </ul>
          <p class="note mt-2">
            One after another, about {{ chosen?.seconds }} s each: {{ many(left, 'controller', 'controllers') }}, about
            {{ left * ((chosen?.seconds ?? 0) + 2) }} s in all. Doors go on deciding; each controller restarts for two
            seconds at its end.
          </p>
          <ul class="card my-3 max-h-60 overflow-auto text-[13px]" aria-live="polite">
            <li v-for="u in units" :key="u.id" class="row py-1.5">
              <b class="flex-1">{{ u.name }}</b>
              <span v-if="u.updating" class="h-2 w-28 overflow-hidden rounded bg-seam"
                ><span class="block h-full bg-kelp" :style="{ width: `${u.percent}%` }"
              /></span>
              <span :class="state(u.id) === 'done' ? 'font-semibold text-kelp' : 'text-ash'">{{ state(u.id) }}</span>
            </li>
            <li v-if="!units.length" class="row text-ash">Every controller has it already.</li>
          </ul>
          <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
          <div class="flex gap-2">
            <button class="btn btn-amber" :disabled="running || !left" @click="begin">
              {{ running ? 'Updating …' : 'Update' }}
            </button>
            <button class="btn" @click="emit('close')">{{ running ? 'Stop after this one' : 'Close' }}</button>
          </div>
        </template>
      </DialogPanel>
    </div>
  </Dialog>
</template>
