<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAll } from '../../core/query'
import EnrolCard from '../../domain/person/EnrolCard.vue'
import BatchForm from '../../domain/person/BatchForm.vue'
import { useAttempt } from '../../ui/attempt'
import SheetFrame from '../../ui/SheetFrame.vue'
import { many } from '../../words'
import PeopleTabs from './PeopleTabs.vue'

/** A box of cards: presented one after another, named in place or left free. The last one that was read is lit. */
type Fresh = { format: string; value: string; name: string; done: string }
const { attempt, busy, problem } = useAttempt()
const free = useAll('free card')
const list = computed(() => free.data.value ?? [])
const read = ref<Fresh[]>([])
const said = ref('')
function took(c: { format: string; value: string }) {
  if (read.value.some((x) => x.value === c.value && x.format === c.format)) return
  read.value.push({ format: c.format, value: c.value, name: '', done: '' })
}
const card = (c: { format: string; value: string }): Schemas['Credential'] => ({
  kind: 'card',
  format: c.format,
  value: c.value,
  status: 'active',
})
const waiting = computed(() => read.value.filter((c) => !c.done))
/** Named cards become people, the others go into the box. */
const keep = () =>
  attempt(async () => {
    let people = 0
    let cards = 0
    for (const c of waiting.value) {
      if (c.name.trim()) {
        const body = {
          id: 0,
          name: c.name.trim(),
          departmentIds: [],
          suspended: false,
          extendedTime: false,
          alwaysPin: false,
          credentials: [card(c)],
          levels: [],
        }
        await ask(api.POST('/api/people', { body }))
        people++
      } else {
        await ask(api.POST('/api/free-cards', { body: { id: 0, ...card(c) } }))
        cards++
      }
      c.done = c.name.trim() ? 'a person' : 'in the box'
    }
    said.value =
      [
        people && many(people, 'person added', 'people added'),
        cards && many(cards, 'card in the box', 'cards in the box'),
      ]
        .filter(Boolean)
        .join(', ') + '.'
    read.value = []
  })
/** Gives a card of the box to somebody new. */
const naming = ref(0)
const name = ref('')
const give = (f: (typeof list.value)[number]) =>
  attempt(async () => {
    const c = { kind: f.value.kind, format: f.value.format, value: f.value.value, status: 'active' as const }
    await ask(
      api.POST('/api/people', {
        body: {
          id: 0,
          name: name.value.trim(),
          departmentIds: [],
          suspended: false,
          extendedTime: false,
          alwaysPin: false,
          credentials: [c],
          levels: [],
        },
      }),
    )
    said.value = `${name.value.trim()} has ${f.value.value}. Give them a department or an access level.`
    naming.value = 0
    name.value = ''
  })
const drop = (f: (typeof list.value)[number]) =>
  attempt(() =>
    ask(api.DELETE('/api/free-cards/{id}', { params: { path: { id: f.value.id }, query: { rev: f.rev } } })),
  )
</script>

<template>
  <SheetFrame title="Free cards" under="Cards that are enrolled and nobody’s yet; they open nothing">
    <PeopleTabs />
    <p v-if="said" role="status" class="mb-2 font-semibold">{{ said }}</p>
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <section class="card mb-3" aria-label="A box of cards">
      <div class="card-head">
        <h2>Present a box of cards</h2>
        <EnrolCard many @took="took" />
      </div>
      <p v-if="!read.length" class="px-3.5 py-2.5 text-ash">
        Choose a reader, press Present cards, and hold one card after another to it. Nothing is presented twice.
      </p>
      <template v-else>
        <p class="px-3.5 pt-2 text-[13.5px]" role="status">
          <b>{{ many(read.length, 'card', 'cards') }}</b> read; the last one is lit.
        </p>
        <form @submit.prevent="keep">
          <div
            v-for="(c, i) in read"
            :key="c.value"
            class="row py-1.5"
            :class="i === read.length - 1 ? 'bg-mode-card/60' : ''"
          >
            <span class="w-6 text-right text-ash tabular-nums">{{ i + 1 }}</span>
            <span class="w-14 text-ash">{{ c.format }}</span>
            <b class="w-28 font-mono">{{ c.value }}</b>
            <input
              v-model="c.name"
              class="field flex-1 py-1"
              placeholder="Name, or nothing: into the box"
              :aria-label="`Name for ${c.value}`"
            />
            <button
              type="button"
              class="btn btn-quiet px-1"
              :aria-label="`Leave out ${c.value}`"
              @click="read.splice(i, 1)"
            >
              Leave out
            </button>
          </div>
          <p class="row">
            <button class="btn btn-amber" :disabled="busy || !waiting.length">
              {{ busy ? 'Keeping …' : 'Keep them' }}
            </button>
          </p>
        </form>
      </template>
    </section>
    <section class="card" aria-label="In the box">
      <div class="card-head">
        <h2>In the box</h2>
        <span class="note">{{ many(list.length, 'card', 'cards') }}</span>
      </div>
      <p v-if="!list.length" class="px-3.5 py-2.5 text-ash">The box is empty.</p>
      <div v-for="f in list.slice(0, 200)" :key="f.value.id" class="row py-1.5">
        <span class="w-14 text-ash">{{ f.value.format ?? f.value.kind }}</span>
        <b class="w-28 font-mono">{{ f.value.value }}</b>
        <form v-if="naming === f.value.id" class="flex flex-1 gap-2" @submit.prevent="give(f)">
          <input
            v-model="name"
            class="field flex-1 py-1"
            autofocus
            placeholder="Name"
            :aria-label="`Who gets ${f.value.value}`"
          />
          <button class="btn" :disabled="busy || !name.trim()">Add the person</button>
        </form>
        <button
          v-else
          class="btn btn-quiet ml-auto px-1"
          :aria-label="`Give it to … ${f.value.value}`"
          @click="naming = f.value.id"
        >
          Give it to …
        </button>
        <button class="btn btn-quiet px-1" :disabled="busy" :aria-label="`Take out ${f.value.value}`" @click="drop(f)">
          Take out
        </button>
      </div>
    </section>
    <template #aside>
      <BatchForm @said="(w) => (said = w)" />
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>On somebody’s sheet, <b>From the box</b> gives them one of these.</p>
        <p>What is presented at the reader while cards are enrolled there raises no alarm.</p>
      </div>
    </template>
  </SheetFrame>
</template>
