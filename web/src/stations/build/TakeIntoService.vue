<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Trouble, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'
import AddressFields from './AddressFields.vue'
import CodePair from './CodePair.vue'

/** Takes controllers into service: what they are called, where they are, and whether their codes are ours. */
const props = defineProps<{ found: Schemas['Found'][]; replaces?: { id: number; name: string } }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const router = useRouter()

type Row = {
  found: Schemas['Found']
  name: string
  place: string
  network: Schemas['Network']
  compare?: Schemas['Compare']
  problem: string
  fields: Record<string, string>
}
const sites = site.overview!.sites
const rows = ref<Row[]>(
  props.found.map((f) => ({ found: f, name: f.name || '', place: '', network: {}, problem: '', fields: {} })),
)
const one = computed(() => (rows.value.length === 1 ? rows.value[0]! : undefined))
const siteId = ref(sites[0]?.id ?? 0)
const newSite = ref(sites.length ? '' : 'Main building')
const zone = ref(sites[0]?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone)
const zones = useQuery({ queryKey: keys.zones, queryFn: ({ signal }) => ask(api.GET('/api/zones', { signal })) })
const { attempt, busy, problem, fields } = useAttempt()
const replaced = ref(false)

function moved() {
  zone.value = sites.find((s) => s.id === siteId.value)?.zone ?? zone.value
}
const how = (r: Row): Schemas['Adoption'] => ({
  name: r.name,
  place: r.place,
  network: r.network,
  siteId: siteId.value,
  site: siteId.value ? '' : newSite.value,
  zone: zone.value,
  replaced: replaced.value,
  ...(props.replaces ? { replaces: props.replaces.id } : {}),
})
/** Does something for every controller; what went wrong stands at each. */
async function each(work: (r: Row) => Promise<void>) {
  await attempt(async () => {
    for (const r of rows.value) {
      r.problem = ''
      r.fields = {}
      try {
        await work(r)
      } catch (e) {
        r.problem = (e as Error).message
        r.fields = e instanceof Trouble ? e.fields : {}
        if (one.value) throw e
      }
    }
  })
}
const comparing = computed(() => rows.value.some((r) => r.compare))
const agree = () =>
  each(async (r) => {
    r.compare = undefined
    r.compare = await ask(
      api.POST('/api/found/{serial}/take-into-service', { params: { path: { serial: r.found.serial } }, body: how(r) }),
    )
  })
async function confirm() {
  const ids: number[] = []
  await each(async (r) => {
    if (!r.compare) return
    const c = await ask(
      api.POST('/api/found/{serial}/confirm', {
        params: { path: { serial: r.found.serial } },
        body: { ...how(r), code: r.compare.code },
      }),
    )
    ids.push(c.value.id)
    r.compare = undefined
    if (!siteId.value) siteId.value = c.value.siteId // the others go to the site that the first has made
  })
  if (rows.value.some((r) => r.problem)) return
  emit('close')
  if (ids.length === 1) void router.push(`/build/controllers/${ids[0]}`)
}
const drop = (r: Row) =>
  ask(api.DELETE('/api/found/{serial}/taking', { params: { path: { serial: r.found.serial } } })).catch(() => {}) // it lapses by itself all the same
async function differ() {
  for (const r of rows.value) {
    if (r.compare) await drop(r)
    r.compare = undefined
  }
  problem.value =
    'Stopped: nothing was taken into service. Somebody may sit between this server and the controller; look at the network, then try again.'
}
async function close() {
  for (const r of rows.value) if (r.compare) await drop(r)
  emit('close')
}
const forgotten = computed(() => one.value?.found.forgotten)
const erased = computed(() => rows.value.filter((r) => r.found.hasImage))
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="close">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center overflow-auto p-6">
      <DialogPanel class="rounded-lg bg-plaster p-6" :class="one ? 'w-[480px]' : 'w-[640px]'">
        <DialogTitle as="h1">{{
          replaces
            ? `Replace ${replaces.name} by ${found[0]!.serial}`
            : one
              ? `Take ${one.found.serial} into service`
              : `Take ${rows.length} controllers into service`
        }}</DialogTitle>
        <template v-if="comparing">
          <p class="mt-3">
            Look at {{ one ? 'the controller itself. Does it show' : 'each controller. Does it show' }} the same code as
            this screen?
          </p>
          <CodePair
            v-for="r in rows.filter((x) => x.compare)"
            :key="r.found.serial"
            :compare="r.compare!"
            :small="!one"
          />
          <p class="note">The code is made from the keys of both sides. If it is the same, nobody sits between them.</p>
          <p
            v-for="r in rows.filter((x) => x.problem && !one)"
            :key="r.found.serial"
            role="alert"
            class="mt-1 font-semibold text-wine"
          >
            {{ r.found.serial }}: {{ r.problem }}
          </p>
          <p v-if="problem" role="alert" class="mt-3 font-semibold text-wine">{{ problem }}</p>
          <div class="mt-4 flex gap-2">
            <button class="btn btn-amber" :disabled="busy" @click="confirm">
              {{ one ? 'It is the same: take into service' : 'They are the same: take into service' }}
            </button>
            <button class="btn btn-wine" :disabled="busy" @click="differ">
              {{ one ? 'It differs' : 'One differs' }}
            </button>
          </div>
        </template>
        <template v-else>
          <p class="my-3 rounded-md border border-wine bg-paper p-2.5 text-[13px]">
            <b class="text-wine">Whatever {{ one ? 'this controller holds' : 'these controllers hold' }} is erased.</b>
            It gets a key of its own, and answers only to this application from then on.
            <template v-if="erased.length">
              {{ erased.map((r) => `${r.found.serial} holds ${r.found.holds}.`).join(' ') }} Its doors stay locked until
              a configuration is sent.
              <a class="underline" href="/api/site-file" download>Save a copy of everything here first</a>
            </template>
            <template v-else>It holds no configuration now.</template>
          </p>
          <form class="space-y-3" @submit.prevent="agree">
            <p v-if="replaces" class="text-[13px]">
              It takes the place of <b>{{ replaces.name }}</b> with its doors, inputs, outputs and expanders; everything
              is sent as soon as it answers. Move the wires to the same terminals.
            </p>
            <p v-else-if="forgotten" class="text-[13px]">
              It comes back as <b>{{ one!.found.name }}</b>, with its doors; send it anew afterwards.
            </p>
            <template v-else>
              <div
                v-for="(r, i) in rows"
                :key="r.found.serial"
                class="space-y-3"
                :class="one ? '' : 'border-t border-seam pt-2'"
              >
                <div class="grid gap-3" :class="one ? '' : 'grid-cols-[80px_1fr_1fr]'">
                  <b v-if="!one" class="self-end pb-2 font-mono">{{ r.found.serial }}</b>
                  <FormField v-slot="f" label="Name" :problem="r.fields.name ?? (one ? fields.name : undefined)"
                    ><input
                      :id="f.id"
                      v-model="r.name"
                      class="field"
                      placeholder="North riser"
                      :autofocus="!i"
                      :aria-invalid="f.invalid"
                  /></FormField>
                  <FormField v-slot="f" label="Where it hangs" :problem="r.fields.place"
                    ><input
                      :id="f.id"
                      v-model="r.place"
                      class="field"
                      placeholder="north stair, for the doors of level 0"
                  /></FormField>
                </div>
                <p v-if="r.problem && !one" role="alert" class="text-[13px] font-semibold text-wine">{{ r.problem }}</p>
                <AddressFields v-model="r.network" :fields="r.fields" />
              </div>
              <div class="grid grid-cols-2 gap-3">
                <FormField v-if="sites.length" v-slot="f" label="Site">
                  <ObjectPicker
                    :id="f.id"
                    v-model="siteId"
                    kind="site"
                    label="Site"
                    :besides="[{ id: 0, name: 'A new site …' }]"
                    @chosen="moved"
                  />
                </FormField>
                <FormField v-if="!siteId" v-slot="f" label="Name of the new site" :problem="fields.site"
                  ><input :id="f.id" v-model="newSite" class="field" :aria-invalid="f.invalid"
                /></FormField>
                <FormField v-slot="f" label="Time zone" :problem="fields.zone">
                  <input :id="f.id" v-model="zone" class="field" list="zones" :aria-invalid="f.invalid" /><datalist
                    id="zones"
                  >
                    <option v-for="z in zones.data.value ?? []" :key="z" :value="z" />
                  </datalist>
                </FormField>
              </div>
            </template>
            <label v-if="forgotten && !replaces" class="flex items-center gap-2 text-[13px]"
              ><input v-model="replaced" type="checkbox" class="accent-kelp" /> The device was replaced by another
              one</label
            >
            <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
            <div class="flex gap-2 pt-1">
              <button class="btn btn-amber" :disabled="busy">
                {{ busy ? 'Agreeing on a key …' : 'Erase and take into service' }}</button><button
                type="button"
                class="btn"
                @click="close"
              >
                Cancel
              </button>
            </div>
          </form>
        </template>
      </DialogPanel>
    </div>
  </Dialog>
</template>
