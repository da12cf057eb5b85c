<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { onScopeDispose, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '../../api/client'
import { listen } from '../../core/live'
import { keys, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import FormField from '../../ui/FormField.vue'
import type { FirstDoors } from './first'

/** Which controllers: those that were found, ticked. */
const props = defineProps<{ all: FirstDoors }>()
const site = useSite()
const { first, found } = props.all
const query = useComputed(
  'found',
  () => [],
  (signal) => ask(api.GET('/api/found', { signal })),
)
watch(
  () => query.data.value,
  (list) => list && found(list),
  { immediate: true },
)
const again = useDebounceFn(() => query.refetch(), 300)
onScopeDispose(listen((n) => n.type === 'found' && void again()))
const zones = useQuery({ queryKey: keys.zones, queryFn: ({ signal }) => ask(api.GET('/api/zones', { signal })) })
const problem = ref('')
async function blink(serial: string) {
  try {
    await ask(api.POST('/api/found/{serial}/blink', { params: { path: { serial } } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const blinking = (serial: string) => query.data.value?.find((f) => f.serial === serial)?.blinking
const sites = site.overview!.sites
if (sites.length && !first.value.siteId) {
  first.value.siteId = sites[0]!.id
  first.value.zone = sites[0]!.zone
}
</script>

<template>
  <section class="card" aria-label="Controllers">
    <div class="card-head">
      <h2>Controllers that answer</h2>
      <button type="button" class="btn px-2 py-0.5" @click="query.refetch()">Look again</button>
    </div>
    <p v-if="problem" role="alert" class="px-3.5 pt-2 font-semibold text-wine">{{ problem }}</p>
    <p v-if="!first.boxes.length" class="p-3.5 text-ash">
      None answers yet. Give one power and a network cable; it appears here by itself.
    </p>
    <div v-for="b in first.boxes" :key="b.serial" class="row">
      <label class="flex items-center gap-1.5"
        ><input v-model="b.on" type="checkbox" :disabled="b.id > 0" /><b class="w-20 font-mono">{{
          b.serial
        }}</b></label
      >
      <span class="note w-28">{{ b.ports }} doors{{ b.id ? ' · in service' : '' }}</span>
      <input v-model="b.name" class="field flex-1 py-1" :aria-label="`Name of ${b.serial}`" :disabled="b.id > 0" />
      <input
        v-model="b.place"
        class="field flex-1 py-1"
        placeholder="where it hangs"
        :aria-label="`Place of ${b.serial}`"
        :disabled="b.id > 0"
      />
      <button
        type="button"
        class="btn px-2 py-0.5"
        :class="blinking(b.serial) ? 'animate-pulse bg-amber' : ''"
        @click="blink(b.serial)"
      >
        {{ blinking(b.serial) ? 'blinking' : 'Blink' }}
      </button>
    </div>
  </section>
  <section v-if="!sites.length" class="card grid grid-cols-2 gap-3 p-3.5" aria-label="Site">
    <FormField v-slot="f" label="The site is called"><input :id="f.id" v-model="first.site" class="field" /></FormField>
    <FormField v-slot="f" label="Time zone"
      ><input :id="f.id" v-model="first.zone" class="field" list="zones" /><datalist id="zones">
        <option v-for="z in zones.data.value ?? []" :key="z" :value="z" /></datalist
    ></FormField>
  </section>
</template>
