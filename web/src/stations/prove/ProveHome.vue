<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import FormField from '../../parts/FormField.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import TraceList from '../../parts/TraceList.vue'
import { useSite } from '../../site'

const site = useSite()
const people = ref<Schemas['Person'][]>([])
const person = ref(0)
const door = ref(0)
const moment = ref('')
const answer = ref<Schemas['Answer']>()
const problem = ref('')
const byFloor = computed(() => site.overview!.sites.flatMap((s) => s.floors.filter((f) => f.doors.length).map((f) => ({ name: `${s.name}, ${f.name}`, doors: f.doors }))))

onMounted(async () => {
  people.value = (await ask(api.GET('/api/people', { params: { query: { limit: 1000 } } }))).items.map((p) => p.value)
  person.value = people.value[0]?.id ?? 0
  door.value = site.doors[0]?.id ?? 0
})
async function put() {
  try {
    answer.value = await ask(api.GET('/api/ask', { params: { query: { person: person.value, door: door.value, at: moment.value } } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
    answer.value = undefined
  }
}
</script>

<template>
  <SheetFrame title="Prove" under="Ask what would happen, or play a door on the bench">
    <section class="card mb-4">
      <div class="card-head"><h2>May this person come in?</h2><span class="note">by the configuration here, sent or not</span></div>
      <form class="grid grid-cols-[1fr_1fr_200px_auto] items-end gap-3 p-3.5" @submit.prevent="put">
        <FormField v-slot="f" label="Who"><select :id="f.id" v-model.number="person" class="field"><option v-for="p in people" :key="p.id" :value="p.id">{{ p.name }}</option></select></FormField>
        <FormField v-slot="f" label="Where"><select :id="f.id" v-model.number="door" class="field"><optgroup v-for="f2 in byFloor" :key="f2.name" :label="f2.name"><option v-for="d in f2.doors" :key="d.id" :value="d.id">{{ d.name }}</option></optgroup></select></FormField>
        <FormField v-slot="f" label="When, by the door's clock"><input :id="f.id" v-model="moment" class="field" type="datetime-local" /></FormField>
        <button class="btn btn-amber" :disabled="!person || !door">Ask</button>
      </form>
      <p v-if="!people.length || !site.doors.length" class="px-3.5 pb-3 text-ash">It takes a person and a door to ask about.</p>
      <p v-if="problem" role="alert" class="px-3.5 pb-3 font-semibold text-wine">{{ problem }}</p>
      <div v-if="answer" class="grid grid-cols-2 gap-3 border-t border-seam p-3.5" role="status">
        <div>
          <p class="text-[16px] font-bold" :class="answer.granted ? 'text-kelp' : 'text-wine'">{{ answer.words }}</p>
          <p class="note">with {{ answer.with }}; the door asks for {{ answer.mode }}{{ moment ? '' : ' now' }}</p>
          <p v-if="answer.mend" class="mt-2 text-[13px] leading-relaxed">{{ answer.mend }}</p>
        </div>
        <TraceList :lines="answer.trace" />
      </div>
    </section>
    <section class="card">
      <div class="card-head"><h2>The bench</h2><span class="note">present cards, open, hold, press: at the stand-in, and see why</span></div>
      <p v-if="!site.doors.length" class="p-3.5 text-ash">No doors yet. Build is where they are named.</p>
      <div v-for="f in byFloor" :key="f.name" class="row items-start"><span class="w-52 shrink-0 pt-1 text-ash">{{ f.name }}</span><span class="flex flex-wrap gap-1.5"><RouterLink v-for="d in f.doors" :key="d.id" class="btn px-2.5 py-1" :to="`/prove/${d.id}`">{{ d.name }}</RouterLink></span></div>
    </section>
    <template #aside><div class="card space-y-2 p-3 text-[13px] leading-relaxed"><p><b>Asking</b> uses the configuration as it stands here, also what is not sent yet.</p><p><b>The bench</b> plays at the controller itself, with what was sent to it.</p></div></template>
  </SheetFrame>
</template>
