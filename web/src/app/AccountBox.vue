<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { keys } from '../core/query'
import { useSite } from '../core/site'
import { dateOf, many, timeOf } from '../words'
import { useAttempt } from '../ui/attempt'
import FormField from '../ui/FormField.vue'
import StateBox from '../ui/StateBox.vue'

const emit = defineEmits<{ close: [] }>()
const site = useSite()
const zone = site.overview!.sites[0]?.zone ?? 'UTC'
const held = useQueryClient()
const visits = useQuery({
  queryKey: keys.sessions,
  queryFn: ({ signal }) => ask(api.GET('/api/account/sessions', { signal })),
  staleTime: 0,
})
const sessions = computed<Schemas['Visit'][]>(() => visits.data.value ?? [])
const took = (l: Schemas['Visit'][]) => held.setQueryData(keys.sessions, l)
const others = computed(() => sessions.value.filter((s) => !s.here).length)
const old = ref('')
const fresh = ref('')
const done = ref('')
const { attempt, busy, problem, fields } = useAttempt()

const change = () =>
  attempt(async () => {
    done.value = ''
    took(await ask(api.POST('/api/account/password', { body: { old: old.value, new: fresh.value } })))
    old.value = fresh.value = ''
    done.value = 'The password is changed; you are signed in only here.'
  })
const end = () =>
  attempt(async () => {
    done.value = ''
    const n = others.value
    took(await ask(api.POST('/api/account/end-other-sessions')))
    done.value = `${many(n, 'other session has', 'other sessions have')} ended.`
  })
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel class="max-h-full w-[480px] overflow-y-auto rounded-lg bg-plaster p-6">
        <DialogTitle as="h1">{{ site.session!.name }}</DialogTitle>
        <form class="card mt-4 space-y-3 p-4" @submit.prevent="change">
          <h2>Change the password</h2>
          <input type="text" :value="site.session!.name" autocomplete="username" hidden />
          <FormField v-slot="f" label="Present password" :problem="fields.old"
            ><input
              :id="f.id"
              v-model="old"
              type="password"
              class="field"
              autocomplete="current-password"
              :aria-invalid="f.invalid"
          /></FormField>
          <FormField v-slot="f" label="New password" :problem="fields.new"
            ><input
              :id="f.id"
              v-model="fresh"
              type="password"
              class="field"
              autocomplete="new-password"
              :aria-invalid="f.invalid"
          /></FormField>
          <p class="note">At least 10 characters. Changing it ends your other sessions.</p>
          <button class="btn btn-amber" :disabled="busy || !old || !fresh">Change the password</button>
        </form>
        <section class="card mt-4">
          <div class="card-head">
            <h2>Where you are signed in</h2>
            <button class="btn px-2 py-0.5" :disabled="busy || !others" @click="end">End the others</button>
          </div>
          <StateBox
            v-if="!visits.data.value"
            class="border-0"
            :loading="visits.isPending.value"
            :error="visits.error.value"
            :again="() => visits.refetch()"
            :rows="2"
          />
          <div v-for="s in sessions" :key="s.id" class="row text-[13px]">
            <span class="flex-1">since {{ dateOf(s.since, zone) }} {{ timeOf(s.since, zone) }}</span>
            <span class="font-mono text-ash">{{ s.address }}</span>
            <b v-if="s.here" class="text-kelp">here</b>
          </div>
        </section>
        <p v-if="problem" role="alert" class="mt-3 font-semibold text-wine">{{ problem }}</p>
        <p v-if="done" role="status" class="mt-3 font-semibold text-kelp">{{ done }}</p>
        <button class="btn mt-4" @click="emit('close')">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
