<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { client, keys, useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import { timeOf } from '../../words'

/** The addresses that reactions may call out to, by what they know that it is us, and what they answered. */
const site = useSite()
const { attempt, busy, problem, fields } = useAttempt()
const settings = useComputed(
  'settings here',
  () => [],
  (signal) => ask(api.GET('/api/settings', { signal })),
)
const calls = useComputed(
  'calls',
  () => [],
  (signal) => ask(api.GET('/api/calls', { signal })),
)
const key = useComputed(
  'call key',
  () => [],
  (signal) => ask(api.GET('/api/call-key', { signal })),
)
const list = computed(() => settings.data.value?.value.callouts ?? [])
const name = ref('')
const url = ref('')
const showKey = ref(false)
const wrong = computed(() => Object.entries(fields.value).find(([p]) => p.startsWith('callouts'))?.[1] ?? problem.value)
const put = (next: { name: string; url: string }[]) =>
  attempt(async () => {
    const s = settings.data.value!
    await ask(api.PUT('/api/settings', { body: { rev: s.rev, value: { ...s.value, callouts: next } } }))
    name.value = url.value = ''
    await client.invalidateQueries({ queryKey: ['computed'] })
    await client.invalidateQueries({ queryKey: keys.settings })
  })
const next = (c: { next: number }) => (c.next ? `, again ${timeOf(c.next, site.zone)}` : '')
</script>

<template>
  <section class="card" aria-label="Addresses that may be called">
    <div class="card-head">
      <h2>Addresses that may be called</h2>
      <span class="note">signed, and tried again where nobody answers</span>
    </div>
    <div v-for="c in list" :key="c.name" class="row py-1.5 text-[13.5px]">
      <b>{{ c.name }}</b><span class="min-w-0 flex-1 truncate font-mono text-[12px]">{{ c.url }}</span
      ><button
        type="button"
        class="btn btn-quiet px-1"
        :disabled="busy"
        :aria-label="`Take out ${c.name}`"
        @click="put(list.filter((x) => x !== c))"
      >
        Take out
      </button>
    </div>
    <form class="row flex-wrap py-2" @submit.prevent="put([...list, { name, url }])">
      <input v-model="name" class="field w-40!" placeholder="Name" aria-label="Name of the address" maxlength="80" />
      <input
        v-model="url"
        class="field min-w-40 flex-1"
        placeholder="https://example.org/hook"
        aria-label="Address"
        maxlength="400"
      />
      <button class="btn px-2.5 py-1" :disabled="busy || !name || !url || !settings.data.value">Allow it</button>
    </form>
    <p v-if="wrong" role="alert" class="px-3.5 pb-2 text-[12.5px] font-semibold text-wine">{{ wrong }}</p>
    <div class="border-t border-seam px-3.5 py-2 text-[13px]">
      <button type="button" class="btn btn-quiet px-0" :aria-expanded="showKey" @click="showKey = !showKey">
        How they know that it is us
      </button>
      <p v-if="showKey && key.data.value" class="mt-1 leading-relaxed">
        The header <b class="font-mono text-[12px]">{{ key.data.value.header }}</b> is HMAC-SHA-256 of
        <b class="font-mono text-[12px]">{{ key.data.value.time }}</b>, a full stop and the body, by this key:
        <span class="block font-mono text-[11.5px] break-all">{{ key.data.value.key }}</span>
      </p>
    </div>
    <div v-if="calls.data.value?.length" class="max-h-56 overflow-auto border-t border-seam">
      <p v-for="c in calls.data.value" :key="c.id" class="row py-1 text-[13px]">
        <span class="font-mono text-[12px]">{{ timeOf(c.at, site.zone) }}</span><b>{{ c.address }}</b
        ><span class="min-w-0 flex-1 truncate" :title="c.answer">{{ c.answer }}{{ next(c) }}</span
        ><span class="note text-[12px]">{{ c.tries === 1 ? '1 try' : `${c.tries} tries` }}</span>
      </p>
    </div>
  </section>
</template>
