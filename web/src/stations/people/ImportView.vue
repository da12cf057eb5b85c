<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAttempt } from '../../ui/attempt'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { many } from '../../words'
import PeopleTabs from './PeopleTabs.vue'

/** People and cards from a list: what each column holds, what each row would do, then all of it or only what is right. */
const { attempt, busy, problem } = useAttempt()
const preview = shallowRef<Schemas['ImportPreview']>()
const state = shallowRef<Schemas['ImportState']>()
const columns = ref<string[]>([])
const show = ref('')
const fileName = ref('')

async function base64(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let text = ''
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000))
  return btoa(text)
}
async function look(body: Schemas['ImportAsked']) {
  preview.value = await ask(api.POST('/api/import/preview', { body }))
  columns.value = [...preview.value.columns]
}
const choose = (e: Event) =>
  attempt(async () => {
    const file = (e.target as HTMLInputElement).files?.[0]
    if (!file) return
    fileName.value = file.name
    state.value = undefined
    show.value = ''
    await look({ data: await base64(file) })
  })
const again = () =>
  attempt(() => look({ token: preview.value!.token, columns: columns.value, show: show.value as 'wrong' }))
const fates = computed(() => {
  const p = preview.value
  return p
    ? [
        { value: '', name: `all ${p.new + p.changed + p.unchanged + p.wrong}` },
        { value: 'new', name: `${p.new} new` },
        { value: 'changed', name: `${p.changed} changed` },
        { value: 'unchanged', name: `${p.unchanged} unchanged` },
        { value: 'wrong', name: `${p.wrong} wrong` },
      ]
    : []
})
const { pause, resume } = useIntervalFn(
  async () => {
    state.value = await ask(api.GET('/api/import'))
    if (state.value.running) return
    pause()
    await again()
  },
  300,
  { immediate: false },
)
const start = (onlyGood: boolean) =>
  attempt(async () => {
    state.value = await ask(api.POST('/api/import/start', { body: { token: preview.value!.token, onlyGood } }))
    resume()
  })
const cancel = () => attempt(async () => void (state.value = await ask(api.POST('/api/import/cancel'))))
const todo = computed(() => (preview.value ? preview.value.new + preview.value.changed : 0))
</script>

<template>
  <SheetFrame title="Import and export" under="People and cards as a list (CSV); the same list again changes nothing">
    <template #actions><a class="btn" href="/api/people.csv" download>Export everybody</a></template>
    <PeopleTabs />
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <label class="card mb-3 flex cursor-pointer items-center gap-3 p-3.5 focus-within:outline-2">
      <span class="btn btn-amber">{{ fileName ? 'Another file' : 'Choose a file' }}</span>
      <input type="file" accept=".csv,.txt,text/csv" class="sr-only" aria-label="A list of people" @change="choose" />
      <span class="text-[13.5px]">{{
        preview
          ? `${fileName}: ${preview.read}`
          : 'Its first line names the columns: name, number, department, cards, levels …'
      }}</span>
    </label>
    <template v-if="preview">
      <section class="card mb-3" aria-label="Columns">
        <div class="card-head py-1.5">
          <h2>What each column holds</h2>
          <span class="note">kept for lists with these headings</span>
        </div>
        <div class="flex flex-wrap gap-x-4 gap-y-2 p-3.5">
          <label v-for="(h, i) in preview.heads" :key="i" class="w-40 text-[13px]"
            ><b class="block truncate" :title="h">{{ h || `column ${i + 1}` }}</b
            ><span class="note block truncate text-[12px]">{{ preview.example[i] || '—' }}</span
            ><select v-model="columns[i]" class="field py-1" :aria-label="`What ${h} holds`" @change="again">
              <option value="">leave out</option>
              <option v-for="f in preview.fields" :key="f">{{ f }}</option>
            </select></label
          >
        </div>
      </section>
      <p v-if="preview.departments.length" class="mb-2 text-[13.5px]">
        {{ many(preview.departments.length, 'department is', 'departments are') }} made:
        {{ preview.departments.slice(0, 8).join(', ') }}{{ preview.departments.length > 8 ? ' …' : '' }}
      </p>
      <div class="mb-2 flex flex-wrap items-center gap-2">
        <ChoiceBar v-model="show" label="Rows" :choices="fates" @update:model-value="again" />
      </div>
      <div class="card overflow-x-auto" role="region" aria-label="Rows of the list" tabindex="0">
        <table class="w-full text-[13px]">
          <thead>
            <tr class="text-left text-ash">
              <th class="px-3 py-1.5 font-normal">Line</th>
              <th class="px-2 font-normal">Name</th>
              <th class="px-2 font-normal"></th>
              <th class="px-2 font-normal">What changes, or what is wrong</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in preview.rows" :key="r.line" class="border-t border-seam align-top">
              <td class="px-3 py-1 tabular-nums text-ash">{{ r.line }}</td>
              <td class="px-2 py-1">{{ r.name }}</td>
              <td
                class="px-2 py-1"
                :class="
                  r.fate === 'wrong'
                    ? 'font-semibold text-wine'
                    : r.fate === 'unchanged'
                      ? 'text-ash'
                      : 'font-semibold text-kelp'
                "
              >
                {{ r.fate }}
              </td>
              <td class="px-2 py-1">
                {{ r.words }}
                <span v-for="f in r.faults" :key="f.field + f.words" class="block text-wine"
                  ><b>{{ f.field }}</b
                  >: {{ f.words }}</span
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="!preview.rows.length" class="p-3 text-ash">No such rows.</p>
        <p v-if="preview.total > preview.rows.length" class="note border-t border-seam p-3">
          and {{ many(preview.total - preview.rows.length, 'more row', 'more rows') }}
        </p>
      </div>
    </template>
    <template #aside>
      <template v-if="preview">
        <h2>Write it</h2>
        <div class="card space-y-2 p-3 text-[13px]">
          <p>
            <b>{{ many(preview.new, 'new person', 'new people') }}</b>, {{ preview.changed }} changed,
            {{ preview.unchanged }} unchanged<template v-if="preview.wrong"
              >, <b class="text-wine">{{ preview.wrong }} wrong</b></template
            >.
          </p>
          <template v-if="state?.running">
            <progress class="h-2 w-full accent-kelp" :max="state.total || 1" :value="state.done" />
            <p role="status">{{ state.done.toLocaleString('en') }} of {{ state.total.toLocaleString('en') }}</p>
            <button class="btn" @click="cancel">Cancel</button>
          </template>
          <template v-else>
            <button v-if="!preview.wrong" class="btn btn-amber w-full" :disabled="busy || !todo" @click="start(false)">
              {{ todo ? `Write ${many(todo, 'person', 'people')}` : 'Nothing to write' }}
            </button>
            <button v-else class="btn btn-amber w-full" :disabled="busy || !todo" @click="start(true)">
              {{ todo ? `Write the ${todo} good ones` : 'No row is right' }}
            </button>
          </template>
          <p
            v-if="state && !state.running && state.words"
            role="status"
            class="font-semibold"
            :class="state.failed ? 'text-wine' : 'text-kelp'"
          >
            {{ state.words }}
          </p>
        </div>
      </template>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Somebody is found again by their number, by a card, or by a name that only one has.</p>
        <p>
          An empty cell leaves what is there; nothing is ever taken away. Several cards, levels or departments stand in
          one cell with | between them.
        </p>
        <p>The export has the same shape. A cell that a spreadsheet would take for a formula gets ' before it.</p>
      </div>
    </template>
  </SheetFrame>
</template>
