<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useSite } from '../../core/site'
import { useAttempt } from '../../ui/attempt'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DateField from '../../ui/DateField.vue'
import FormField from '../../ui/FormField.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import AnswerCard from './AnswerCard.vue'
import ProveTabs from './ProveTabs.vue'

/** A question in words, or its parts: what was understood is shown, and can be corrected. The address holds it. */
const site = useSite()
const route = useRoute()
const router = useRouter()
const { attempt, busy, problem } = useAttempt()
const text = ref('')
const kind = ref<Kind>('may')
const person = ref(0)
const door = ref(0)
const day = ref<string>()
const time = ref('')
const answer = shallowRef<Schemas['Answered']>()
type Kind = 'may' | 'who' | 'where' | 'when'
const kinds: { value: Kind; name: string }[] = [
  { value: 'may', name: 'may they?' },
  { value: 'who', name: 'who can?' },
  { value: 'where', name: 'where can they go?' },
  { value: 'when', name: 'when can they?' },
]
type Query = Record<string, string | number | undefined>
const one = (v: unknown) => String(Array.isArray(v) ? (v[0] ?? '') : (v ?? ''))

/** The address asks: as it was typed, or with what was corrected. */
watch(
  () => route.query,
  (q) => {
    if (route.path !== '/prove') return
    if (!one(q.q) && !one(q.kind) && !one(q.person) && !one(q.door)) return void (answer.value = undefined)
    void attempt(async () => {
      const query = {
        q: one(q.q),
        kind: one(q.kind) as Kind,
        person: Number(one(q.person)),
        door: Number(one(q.door)),
        from: one(q.from),
        to: one(q.to),
      }
      const a = await ask(api.GET('/api/question', { params: { query } }))
      answer.value = a
      text.value = one(q.q)
      if (a.kind) kind.value = a.kind
      person.value = a.person
      door.value = a.door
      const said = a.when !== 'now' && a.when !== 'in the next seven days'
      day.value = said ? a.fromWall.slice(0, 10) : undefined
      time.value = said && a.fromWall.slice(11) !== '00:00' ? a.fromWall.slice(11) : ''
    })
  },
  { immediate: true },
)
const go = (query: Query) =>
  router.push({
    path: '/prove',
    query: Object.fromEntries(Object.entries(query).filter(([, v]) => v)) as Record<string, string>,
  })
const type = () => text.value.trim() && go({ q: text.value.trim() })
/** With a time of day it is a moment, with a day alone that day; for who and where a day is asked at all its hours. */
function put() {
  const clock = time.value.trim()
  const date = day.value || (clock ? site.today(door.value) : '')
  const from = date ? `${date}T${(clock || '00:00').padStart(5, '0')}` : ''
  let to = ''
  if (date && !clock) {
    const next = new Date(`${date}T00:00:00Z`)
    next.setUTCDate(next.getUTCDate() + 1)
    to = `${next.toISOString().slice(0, 10)}T00:00`
  }
  if (kind.value === 'may' && to) to = ''
  go({
    kind: kind.value,
    person: person.value,
    door: door.value,
    from: kind.value === 'may' && date && !clock ? `${date}T12:00` : from,
    to,
  })
}
const ready = computed(() => (kind.value === 'who' || person.value > 0) && (kind.value === 'where' || door.value > 0))
const examples = [
  'Ines at Specimen vault Sat 16:30',
  'who can enter the vault tonight',
  'when Ines Lab',
  'where can Noor go Saturday',
]
</script>

<template>
  <SheetFrame title="Prove" under="Ask what would happen, or play a door on the bench">
    <ProveTabs />
    <section class="card mb-4">
      <form class="flex gap-2 p-3.5 pb-2" @submit.prevent="type">
        <input
          v-model="text"
          class="field flex-1 text-[15px]"
          aria-label="A question in words"
          placeholder="Ines at Specimen vault Sat 16:30"
          maxlength="300"
        /><button class="btn" :disabled="!text.trim() || busy">Understand</button>
      </form>
      <p class="flex flex-wrap gap-x-3 px-3.5 pb-2 text-[12.5px]">
        <button
          v-for="e in examples"
          :key="e"
          class="min-h-[24px] text-ash underline decoration-dotted"
          @click="go({ q: e })"
        >
          {{ e }}
        </button>
      </p>
      <form class="space-y-3 border-t border-seam p-3.5" @submit.prevent="put">
        <ChoiceBar v-model="kind" label="What is asked" :choices="kinds" />
        <div class="grid grid-cols-[1fr_1fr_auto_auto] items-end gap-3 max-xl:grid-cols-2">
          <FormField v-if="kind !== 'who'" v-slot="f" label="Who"
            ><ObjectPicker :id="f.id" v-model="person" kind="person" label="Who" placeholder="Name, department or card"
          /></FormField>
          <FormField v-if="kind !== 'where'" v-slot="f" label="Where"
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
          <button class="btn btn-amber" :disabled="!ready || busy">Ask</button>
        </div>
        <p v-if="answer && !problem" class="text-[13.5px]" role="status">
          Understood: <b>{{ answer.words }}</b>
          <span v-if="answer.unread.length" class="text-wine">
            Nothing was made of {{ answer.unread.map((w) => `“${w}”`).join(', ') }}.</span
          >
          <template v-for="list in [answer.peopleNamed, answer.doorsNamed]" :key="list[0]?.kind ?? 'none'"
            ><span v-if="list.length > 1" class="note block"
              >or
              <button
                v-for="p in list.slice(1, 6)"
                :key="p.id"
                type="button"
                class="mr-2 min-h-[24px] underline"
                @click="go({ ...(route.query as Query), [p.kind]: p.id })"
              >
                {{ p.name }}<template v-if="p.hint"> ({{ p.hint }})</template>
              </button></span
            ></template
          >
        </p>
      </form>
      <p v-if="!site.doors.length" class="px-3.5 pb-3 text-ash">It takes a person and a door to ask about.</p>
      <p v-if="problem" role="alert" class="px-3.5 pb-3 font-semibold text-wine">{{ problem }}</p>
      <AnswerCard v-if="answer && !problem" :answer="answer" />
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
          <RouterLink class="underline" :to="`/prove/${door || site.doors[0]!.id}`"
            >play {{ site.doorName(door || site.doors[0]!.id) }}</RouterLink
          >.</template
        >
      </p>
    </section>
    <template #aside
      ><div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Asking</b> uses the configuration as it stands here, also what is not sent yet.</p>
        <p>Two of person, door and time are enough: the third is the answer.</p>
        <p><b>The bench</b> plays at the controller itself, with what was sent to it.</p>
      </div></template
    >
  </SheetFrame>
</template>
