<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useAttempt } from '../../ui/attempt'
import { many } from '../../words'

/** Asks a controller about itself, its clock, and what its terminals say: a list that ends in a verdict. */
const props = defineProps<{ id: number }>()
const path = { path: { id: props.id } }
const lines = ref<Schemas['TestLine'][]>([])
const said = ref('')
const { attempt, busy: testing, problem } = useAttempt()
const bad = computed(() => lines.value.filter((l) => !l.ok).length)
const asked = async () => {
  lines.value = await ask(api.POST('/api/controllers/{id}/self-test', { params: path }))
}
const test = () => attempt(asked)
type Line = Schemas['TestLine']
const fixes: Record<string, string> = {
  'set-clock': 'Set the clock',
  power: 'Power back',
  wiring: 'It is closed: turn the wiring round',
}
/** Does what a click can do about a line, then tests again. */
const mend = (l: Line) =>
  attempt(async () => {
    said.value = ''
    if (l.fix === 'set-clock') await ask(api.POST('/api/controllers/{id}/set-clock', { params: path }))
    if (l.fix === 'power')
      await ask(api.POST('/api/controllers/{id}/reader-power', { params: path, body: { at: l.at!, on: true } }))
    if (l.fix === 'wiring') {
      const d = await fetchObject('door', l.door!)
      const contact = d.value.contact === 'nc' ? ('no' as const) : ('nc' as const)
      await ask(
        api.PUT('/api/doors/{id}', {
          params: { path: { id: l.door! } },
          body: { rev: d.rev, value: { ...d.value, contact } },
        }),
      )
      said.value = `The contact of ${l.place} is taken as wired the other way now. Send it, then test again.`
    }
    await asked()
  })
</script>

<template>
  <section class="card mb-4" aria-label="Self-test">
    <div class="card-head">
      <h2>Self-test</h2>
      <span class="flex items-center gap-3"
        ><span v-if="lines.length" class="note">{{ lines.length - bad }} of {{ lines.length }} good</span
        ><button class="btn btn-amber px-2.5 py-0.5" :disabled="testing" @click="test">
          {{ testing ? 'Testing …' : 'Test now' }}
        </button></span
      >
    </div>
    <p v-if="problem" role="alert" class="p-3.5 font-semibold text-wine">{{ problem }}</p>
    <p v-else-if="!lines.length" class="p-3.5 text-ash">
      Asks whether the controller answers, whether its clock is right, and what its power, readers, contacts, exit
      requests and inputs say. Close the doors and let go of the buttons first.
    </p>
    <div v-for="(l, i) in lines" :key="i" class="row py-1.5">
      <span class="w-4 font-bold" :class="l.ok ? 'text-kelp' : 'text-wine'" :aria-label="l.ok ? 'good' : 'not good'">{{
        l.ok ? '✓' : '✗'
      }}</span>
      <span class="w-40">{{ l.place }}</span><span class="w-28 text-ash">{{ l.what }}</span>
      <span class="flex-1" :class="l.ok ? '' : 'font-semibold'"
        >{{ l.words }}<span v-if="l.mend" class="note block font-normal">{{ l.mend }}</span></span
      >
      <button v-if="l.fix" class="btn px-2 py-0.5 text-[12px]" :disabled="testing" @click="mend(l)">
        {{ fixes[l.fix] }}
      </button>
    </div>
    <p v-if="said" role="status" class="px-3.5 py-2 font-semibold">
      {{ said }} <RouterLink class="underline" to="/send">Go to Send</RouterLink>
    </p>
    <p
      v-if="lines.length"
      class="border-t-2 px-3.5 py-2.5 font-bold"
      :class="bad ? 'border-wine text-wine' : 'border-kelp text-kelp'"
      role="status"
    >
      {{
        bad
          ? `Not ready: ${many(bad, 'thing is', 'things are')} to be mended.`
          : 'Ready: everything answers as it should.'
      }}
    </p>
  </section>
</template>
