<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref } from 'vue'
import { bindingsNow, setSingleKeys, singleKeys, useKeys } from '../core/keys'

const open = ref(false)
const now = ref<ReturnType<typeof bindingsNow>>([])
function show() {
  now.value = bindingsNow().filter((s) => s.bindings.length)
  open.value = !open.value
}
useKeys('Everywhere', [{ keys: '?', what: 'These keys', run: show, dialog: true }])
const nice = (keys: string) =>
  keys
    .split(' ')
    .map((k) => k.replaceAll('Arrow', '').replaceAll('+', ' '))
    .join(', ')
const merged = () => {
  const out = new Map<string, { keys: string; what: string }[]>()
  for (const s of now.value) out.set(s.name, [...(out.get(s.name) ?? []), ...s.bindings])
  return [...out]
}
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel class="max-h-full w-[680px] max-w-full overflow-auto rounded-lg bg-plaster p-6">
        <DialogTitle as="h1" class="mb-1">Keys</DialogTitle>
        <p class="note mb-3">Those that do something where you are now.</p>
        <div class="gap-x-8 sm:columns-2">
          <section v-for="[where, list] in merged()" :key="where" class="mb-4 break-inside-avoid">
            <h2 class="mb-1">{{ where }}</h2>
            <dl>
              <div v-for="b in list" :key="b.keys + b.what" class="flex justify-between gap-3 py-0.5">
                <dt class="key text-ink">{{ nice(b.keys) }}</dt>
                <dd class="text-right text-ash">{{ b.what }}</dd>
              </div>
            </dl>
          </section>
        </div>
        <label class="mt-2 flex items-center gap-2"
          ><input
            type="checkbox"
            :checked="singleKeys"
            @change="setSingleKeys(($event.target as HTMLInputElement).checked)"
          />
          Keys of a single letter do something; switch them off where you speak to your machine</label
        >
        <button class="btn mt-4" @click="open = false">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
