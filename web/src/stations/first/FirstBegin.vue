<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { many } from '../../words'
import CodePair from '../build/CodePair.vue'
import type { FirstDoors } from './first'

/** Everything that will happen, on one page; then it happens. */
const props = defineProps<{ all: FirstDoors }>()
const emit = defineEmits<{ done: [door?: number] }>()
const { first, boxes, doors, people, agree, begin, busy, doing, problem, done } = props.all
const fresh = computed(() => boxes.value.filter((b) => !b.id))
const compared = computed(() => fresh.value.filter((b) => b.code))
onMounted(agree)
const ready = computed(() => boxes.value.length > 0 && compared.value.length === fresh.value.length)
const names = (list: { name: string }[]) => list.map((x) => x.name).join(', ')
const lines = computed(() => [
  ...(first.value.siteId || !fresh.value.length
    ? []
    : [`The site ${first.value.site} is made, in the time zone ${first.value.zone}.`]),
  ...(fresh.value.length
    ? [
        `${names(fresh.value)}: taken into service. Whatever ${fresh.value.length > 1 ? 'they hold' : 'it holds'} is erased; ${fresh.value.length > 1 ? 'they get keys of their own' : 'it gets a key of its own'}.`,
      ]
    : []),
  doors.value.length
    ? `${many(doors.value.length, 'door is', 'doors are')} made: ${names(doors.value)}. Each asks for a card at all hours and has the usual hardware: strike, contact, exit button; released for 5 s, held open after 60 s.`
    : 'No door is made.',
  people.value.length
    ? `${many(people.value.length, 'person gets', 'people get')} a card: ${names(people.value)}. All of them may pass every door ${first.value.when === 'always' ? 'at all hours' : 'in the hours that you gave'}, also doors that are added later; a finding says so until you narrow it.`
    : 'Nobody gets a card: nobody can come in yet.',
  `Everything is sent to ${names(boxes.value) || 'no controller'}, and the bench opens at ${doors.value[0]?.name ?? 'no door'}.`,
])
async function go() {
  const door = await begin()
  if (!problem.value) emit('done', door)
}
</script>

<template>
  <section class="card p-4" aria-label="What will happen">
    <h2 class="mb-2 text-[15px]">This will happen</h2>
    <ol class="list-decimal space-y-1 pl-5">
      <li v-for="l in lines" :key="l">{{ l }}</li>
    </ol>
  </section>
  <section v-if="compared.length" class="card p-4" aria-label="Codes">
    <h2>Does {{ compared.length > 1 ? 'each controller' : 'the controller' }} show the same code as this screen?</h2>
    <CodePair
      v-for="b in compared"
      :key="b.serial"
      :compare="{ serial: b.serial, code: b.code!, shows: b.shows ?? '' }"
      small
    />
    <p class="note">If it is the same, nobody sits between them. If it differs, stop here and look at the network.</p>
  </section>
  <p v-if="doing" role="status" class="font-semibold">{{ doing }} …</p>
  <ul v-if="done.length" class="note flex flex-wrap gap-x-3">
    <li v-for="d in done" :key="d">✓ {{ d }}</li>
  </ul>
  <p v-if="problem" role="alert" class="font-semibold text-wine">
    {{ problem }} What was done stays; go on when it is mended.
  </p>
  <div class="flex gap-2">
    <button type="button" class="btn btn-amber" :disabled="busy || !ready" @click="go">
      {{
        fresh.length ? (fresh.length > 1 ? 'The codes are the same: begin' : 'The code is the same: begin') : 'Begin'
      }}
    </button>
    <button v-if="fresh.length && !ready && !busy" type="button" class="btn" @click="agree">Try again</button>
  </div>
</template>
