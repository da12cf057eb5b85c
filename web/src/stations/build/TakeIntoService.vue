<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { keys } from '../../core/query'
import { useSite } from '../../core/site'

const props = defineProps<{ found: Schemas['Found'] }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const router = useRouter()

const sites = site.overview!.sites
const name = ref(props.found.name || '')
const siteId = ref(sites[0]?.id ?? 0)
const newSite = ref(sites.length ? '' : 'Main building')
const zone = ref(sites[0]?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone)
const zones = useQuery({ queryKey: keys.zones, queryFn: ({ signal }) => ask(api.GET('/api/zones', { signal })) })
const { attempt, busy, problem, fields } = useAttempt()
const replaced = ref(false)

function moved() {
  zone.value = sites.find((s) => s.id === siteId.value)?.zone ?? zone.value
}
/** The codes that a person compares, once both sides have agreed on a key. */
const compare = ref<Schemas['Compare']>()
const path = { serial: props.found.serial }
const how = computed(() => ({
  name: name.value,
  siteId: siteId.value,
  site: siteId.value ? '' : newSite.value,
  zone: zone.value,
  replaced: replaced.value,
}))

const agree = () =>
  attempt(async () => {
    compare.value = undefined
    compare.value = await ask(api.POST('/api/found/{serial}/take-into-service', { params: { path }, body: how.value }))
  })
const confirm = () =>
  attempt(async () => {
    const c = await ask(
      api.POST('/api/found/{serial}/confirm', { params: { path }, body: { ...how.value, code: compare.value!.code } }),
    )
    emit('close')
    void router.push(`/build/controllers/${c.value.id}`)
  })
const differ = () =>
  attempt(async () => {
    await ask(api.DELETE('/api/found/{serial}/taking', { params: { path } }))
    compare.value = undefined
    problem.value =
      'Stopped: nothing was taken into service. Somebody may sit between this server and the controller; look at the network, then try again.'
  })
async function close() {
  if (compare.value) await ask(api.DELETE('/api/found/{serial}/taking', { params: { path } })).catch(() => {}) // it lapses by itself all the same
  emit('close')
}
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="close">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel class="w-[480px] rounded-lg bg-plaster p-6">
        <DialogTitle as="h1">Take {{ found.serial }} into service</DialogTitle>
        <template v-if="compare">
          <p class="mt-3">Look at the controller itself. Does it show the same code as this screen?</p>
          <div class="my-4 grid grid-cols-2 gap-3 text-center">
            <figure class="card p-3">
              <p class="font-mono text-[28px] font-semibold tracking-wider" data-code="here">{{ compare.code }}</p>
              <figcaption class="note">this screen</figcaption>
            </figure>
            <figure class="rounded-lg bg-basalt p-3 text-paper">
              <p class="font-mono text-[28px] font-semibold tracking-wider text-amber" data-code="there">
                {{ compare.shows || '––– –––' }}
              </p>
              <figcaption class="text-[13px] text-seam">display of {{ found.serial }}, a stand-in</figcaption>
            </figure>
          </div>
          <p class="note">The code is made from the keys of both sides. If it is the same, nobody sits between them.</p>
          <p v-if="problem" role="alert" class="mt-3 font-semibold text-wine">{{ problem }}</p>
          <div class="mt-4 flex gap-2">
            <button class="btn btn-amber" :disabled="busy" @click="confirm">It is the same: take into service</button>
            <button class="btn btn-wine" :disabled="busy" @click="differ">It differs</button>
          </div>
        </template>
        <template v-else>
          <p class="my-3 rounded-md border border-wine bg-paper p-2.5 text-[13px]">
            <b class="text-wine">Whatever this controller holds is erased.</b> It gets a key of its own, and answers
            only to this application from then on.
            {{
              found.hasImage ? 'Its doors stay locked until a configuration is sent.' : 'It holds no configuration now.'
            }}
          </p>
          <form class="space-y-3" @submit.prevent="agree">
            <p v-if="found.forgotten" class="text-[13px]">
              It comes back as <b>{{ found.name }}</b>, with its doors; send it anew afterwards.
            </p>
            <template v-else>
              <FormField v-slot="f" label="Name" :problem="fields.name"
                ><input
                  :id="f.id"
                  v-model="name"
                  class="field"
                  placeholder="North riser"
                  autofocus
                  :aria-invalid="f.invalid"
              /></FormField>
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
            </template>
            <label v-if="found.forgotten" class="flex items-center gap-2 text-[13px]"
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
