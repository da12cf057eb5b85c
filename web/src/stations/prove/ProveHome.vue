<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import DateField from '../../ui/DateField.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import TraceList from '../../ui/TraceList.vue'

const site = useSite()
const person = ref(0)
const door = ref(0)
const day = ref<string>()
const time = ref('')
const answer = ref<Schemas['Answer']>()
const problem = ref('')
const busy = ref(false)
/** Somebody to begin with, and a door: the first of each. */
useComputed(
  'first person',
  () => [],
  async (signal) => {
    const first =
      (await ask(api.GET('/api/people', { params: { query: { limit: 1 } }, signal }))).items[0]?.value.id ?? 0
    person.value ||= first
    door.value ||= site.doors[0]?.id ?? 0
    return first
  },
)
async function put() {
  if (busy.value) return
  busy.value = true
  try {
    const clock = time.value.trim() || '12:00'
    const at = day.value || time.value.trim() ? `${day.value || site.today(door.value)}T${clock.padStart(5, '0')}` : ''
    answer.value = await ask(api.GET('/api/ask', { params: { query: { person: person.value, door: door.value, at } } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
    answer.value = undefined
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetFrame title="Prove" under="Ask what would happen, or play a door on the bench">
    <section class="card mb-4">
      <div class="card-head">
        <h2>May this person come in?</h2>
        <span class="note">by the configuration here, sent or not</span>
      </div>
      <form class="grid grid-cols-[1fr_1fr_auto_auto] items-end gap-3 p-3.5 max-xl:grid-cols-2" @submit.prevent="put">
        <FormField v-slot="f" label="Who"
          ><ObjectPicker :id="f.id" v-model="person" kind="person" label="Who" placeholder="Name, department or card"
        /></FormField>
        <FormField v-slot="f" label="Where"
          ><ObjectPicker :id="f.id" v-model="door" kind="door" label="Where"
        /></FormField>
        <FormField v-slot="f" label="When, by the door’s clock">
          <span class="flex gap-1.5"
            ><DateField :id="f.id" v-model="day" label="When: the day" placeholder="now" /><input
              v-model="time"
              class="field w-[76px]! font-mono text-[13px]"
              placeholder="08:30"
              aria-label="When: the time"
          /></span>
        </FormField>
        <button class="btn btn-amber" :disabled="!person || !door || busy">Ask</button>
      </form>
      <p v-if="!site.doors.length" class="px-3.5 pb-3 text-ash">It takes a person and a door to ask about.</p>
      <p v-if="problem" role="alert" class="px-3.5 pb-3 font-semibold text-wine">{{ problem }}</p>
      <div v-if="answer" class="grid grid-cols-2 gap-3 border-t border-seam p-3.5 max-md:grid-cols-1" role="status">
        <div>
          <p class="text-[16px] font-bold" :class="answer.granted ? 'text-kelp' : 'text-wine'">{{ answer.words }}</p>
          <p class="note">with {{ answer.with }}; the door asks for {{ answer.mode }}{{ day || time ? '' : ' now' }}</p>
          <p v-if="answer.mend" class="mt-2 text-[13px] leading-relaxed">{{ answer.mend }}</p>
        </div>
        <TraceList :lines="answer.trace" />
      </div>
    </section>
    <section class="card">
      <div class="card-head">
        <h2>The bench</h2>
        <span class="note">present cards, open, hold, press: at the stand-in, and see why</span>
      </div>
      <p class="p-3.5" :class="site.doors.length ? '' : 'text-ash'">
        <template v-if="!site.doors.length">No doors yet. Build is where they are named.</template>
        <template v-else
          >Choose a door on the left, or
          <RouterLink v-if="door" class="underline" :to="`/prove/${door}`">play {{ site.doorName(door) }}</RouterLink
          >.</template
        >
      </p>
    </section>
    <template #aside
      ><div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Asking</b> uses the configuration as it stands here, also what is not sent yet.</p>
        <p><b>The bench</b> plays at the controller itself, with what was sent to it.</p>
      </div></template
    >
  </SheetFrame>
</template>
