<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Trouble, type Schemas } from '../../api/client'
import FormField from '../../parts/FormField.vue'
import { useSite } from '../../site'

const props = defineProps<{ found: Schemas['Found'] }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const router = useRouter()

const sites = site.overview!.sites
const name = ref(props.found.name || '')
const siteId = ref(sites[0]?.id ?? 0)
const newSite = ref(sites.length ? '' : 'Main building')
const zone = ref(sites[0]?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone)
const zones = ref<string[]>([])
const problem = ref('')
const fields = ref<Record<string, string>>({})
const busy = ref(false)

onMounted(async () => { zones.value = await ask(api.GET('/api/zones')) })
function moved() {
  zone.value = sites.find((s) => s.id === siteId.value)?.zone ?? zone.value
}
async function take() {
  busy.value = true
  try {
    const c = await ask(api.POST('/api/found/{serial}/take-into-service', {
      params: { path: { serial: props.found.serial } },
      body: { name: name.value, siteId: siteId.value, site: siteId.value ? '' : newSite.value, zone: zone.value },
    }))
    await Promise.all([site.refresh(), site.refreshUnits()])
    emit('close')
    void router.push(`/build/controllers/${c.value.id}`)
  } catch (e) {
    problem.value = (e as Error).message
    fields.value = e instanceof Trouble ? e.fields : {}
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel class="w-[460px] rounded-lg bg-plaster p-6">
        <DialogTitle as="h1">Take {{ found.serial }} into service</DialogTitle>
        <p class="my-3 rounded-md border border-wine bg-paper p-2.5 text-[13px]">
          <b class="text-wine">Whatever this controller holds is erased.</b> It gets a key of its own, and answers only to this application from then on.
          {{ found.hasImage ? 'Its doors stay locked until a configuration is sent.' : 'It holds no configuration now.' }}
        </p>
        <form class="space-y-3" @submit.prevent="take">
          <FormField v-slot="f" label="Name" :problem="fields.name"><input :id="f.id" v-model="name" class="field" placeholder="North riser" autofocus :aria-invalid="f.invalid" /></FormField>
          <FormField v-if="sites.length" v-slot="f" label="Site">
            <select :id="f.id" v-model.number="siteId" class="field" @change="moved"><option v-for="s in sites" :key="s.id" :value="s.id">{{ s.name }}</option><option :value="0">A new site …</option></select>
          </FormField>
          <FormField v-if="!siteId" v-slot="f" label="Name of the new site" :problem="fields.site"><input :id="f.id" v-model="newSite" class="field" :aria-invalid="f.invalid" /></FormField>
          <FormField v-slot="f" label="Time zone" :problem="fields.zone">
            <input :id="f.id" v-model="zone" class="field" list="zones" :aria-invalid="f.invalid" /><datalist id="zones"><option v-for="z in zones" :key="z" :value="z" /></datalist>
          </FormField>
          <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
          <div class="flex gap-2 pt-1"><button class="btn btn-amber" :disabled="busy">Erase and take into service</button><button type="button" class="btn" @click="emit('close')">Cancel</button></div>
        </form>
      </DialogPanel>
    </div>
  </Dialog>
</template>
