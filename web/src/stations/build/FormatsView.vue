<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas, whatIsWrong } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSettings } from '../../core/settings'
import BitRuler from '../../domain/format/BitRuler.vue'
import FormatEditor from '../../domain/format/FormatEditor.vue'
import FormField from '../../ui/FormField.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'
import BuildTabs from './BuildTabs.vue'

/** Card formats: which readers take, in which order, with which facility codes; and those of one's own. */
const route = useRoute()
const router = useRouter()
const edit = useSettings('Card formats')
const { draft, phase, dirty } = edit
const query = useComputed(
  'formats',
  () => [],
  (signal) => ask(api.GET('/api/formats', { signal })),
)
const shown = computed<Schemas['FormatShown'][]>(() => query.data.value ?? [])
const read = ref(String(route.query.bits ?? ''))
watch(
  () => route.query.bits,
  (b) => b && (read.value = String(b)),
)
const bits = computed(() => read.value.replace(/\s/g, ''))
const decoded = ref<Schemas['Decoded']>()
const trouble = ref('')
watch(
  bits,
  async (b) => {
    decoded.value = undefined
    trouble.value = ''
    if (!b) return
    try {
      decoded.value = await ask(api.POST('/api/decode', { body: { bits: b } }))
    } catch (e) {
      trouble.value = whatIsWrong(e)
    }
  },
  { immediate: true },
)

const chosen = ref('')
const own = computed(() => draft.value?.formats ?? [])
const names = computed(() => [
  ...shown.value.filter((f) => f.builtIn).map((f) => f.name),
  ...own.value.map((o) => o.name),
])
const taken = (name: string) => draft.value?.cards.find((c) => c.format === name)
function take(name: string, on: boolean) {
  const d = draft.value!
  d.cards = on
    ? name === 'raw'
      ? [...d.cards, { format: name, facilities: [] }]
      : [
          ...d.cards.filter((c) => c.format !== 'raw'),
          { format: name, facilities: [] },
          ...d.cards.filter((c) => c.format === 'raw'),
        ]
    : d.cards.filter((c) => c.format !== name)
}
function codes(name: string, text: string) {
  const c = taken(name)
  if (c)
    c.facilities = text
      .split(/[ ,;]+/)
      .filter((x) => /^\d+$/.test(x))
      .map(Number)
}
const most = (name: string) => shown.value.find((f) => f.name === name)
const range = (f: Schemas['FormatShown'] | undefined) =>
  !f
    ? ''
    : f.bits === 0
      ? 'any number'
      : `${f.mostFacility ? `facility 0–${f.mostFacility.toLocaleString('en')}, ` : ''}number 0–${f.mostNumber.toLocaleString('en')}`
const index = computed(() => own.value.findIndex((o) => o.name === chosen.value))
const layout = computed(() => most(chosen.value)?.layout)

function add(o: Schemas['OwnFormat']) {
  let name = o.name
  for (let n = 2; names.value.includes(name); n++) name = `${o.name} ${n}`
  draft.value!.formats = [...own.value, { ...o, name }]
  take(name, true)
  chosen.value = name
}
async function fresh() {
  const p = decoded.value?.proposed
  if (p) return add(p)
  add((await ask(api.POST('/api/decode', { body: { bits: '0'.repeat(32) } }))).proposed)
}
function setOwn(i: number, o: Schemas['OwnFormat']) {
  const was = own.value[i]!.name
  draft.value!.formats = own.value.map((x, k) => (k === i ? o : x))
  if (o.name !== was) {
    draft.value!.cards = draft.value!.cards.map((c) => (c.format === was ? { ...c, format: o.name } : c))
    chosen.value = o.name
  }
}
function removeOwn(i: number) {
  const name = own.value[i]!.name
  draft.value!.formats = own.value.filter((_, k) => k !== i)
  if (!draft.value!.formats.length) delete draft.value!.formats
  take(name, false)
  chosen.value = ''
}
const facilities = computed(() => draft.value?.facilities ?? [])
function nameCode(code: number, name: string) {
  const rest = facilities.value.filter((f) => f.code !== code)
  draft.value!.facilities = name ? [...rest, { code, name }] : rest
}
const codeName = (code: number) => facilities.value.find((f) => f.code === code)?.name ?? ''
const accepted = computed(() => [...new Set((draft.value?.cards ?? []).flatMap((c) => c.facilities ?? []))])
const clear = () => ((read.value = ''), void router.replace('/build/formats'))
</script>

<template>
  <SheetFrame
    title="Card formats"
    under="How readers turn the bits of a card into a number, in the order in which they are tried"
  >
    <BuildTabs />
    <StateBox
      v-if="!draft"
      :loading="phase === 'loading'"
      :error="edit.query.error.value"
      :again="edit.reload"
      :rows="8"
    />
    <template v-if="draft">
      <section class="card mb-4" aria-label="A read">
        <div class="card-head">
          <h2>A read</h2>
          <button v-if="read" class="btn btn-quiet px-1 py-0" @click="clear">Clear</button>
        </div>
        <div class="space-y-2 p-3.5">
          <textarea
            v-model="read"
            rows="2"
            class="field font-mono text-[13px]"
            spellcheck="false"
            placeholder="ones and zeros, as the reader sent them; a read in Watch that fits no format opens here"
            aria-label="Bits of a read"
          />
          <p v-if="trouble" class="font-semibold text-wine">{{ trouble }}</p>
          <template v-if="decoded">
            <p class="border-l-4 pl-3" :class="decoded.fits ? 'border-kelp' : 'border-wine'">
              <b>{{ bits.length }} bits.</b> {{ decoded.words }}.
            </p>
            <ul class="grid grid-cols-2 gap-x-6 text-[13px] max-md:grid-cols-1">
              <li v-for="t in decoded.tried" :key="t.format" class="flex gap-2">
                <b class="w-24 shrink-0 truncate" :class="t.fits ? 'text-kelp' : ''">{{ t.format }}</b><span
                  :class="t.fits ? '' : 'text-ash'"
                  >{{ t.fits ? t.value : t.words }}</span
                >
              </li>
            </ul>
            <button class="btn btn-amber" @click="fresh">Make a format of this</button>
          </template>
        </div>
      </section>

      <section class="card mb-4" aria-label="Formats">
        <div class="card-head">
          <h2>Formats</h2>
          <button class="btn px-2 py-0.5" @click="fresh">New format</button>
        </div>
        <template v-for="name in names" :key="name">
          <div class="row flex-wrap" :class="chosen === name ? 'bg-lime' : ''">
            <label class="flex w-40 items-center gap-1.5 font-semibold"
              ><input
                type="checkbox"
                :checked="!!taken(name)"
                :aria-label="`Readers take ${name}`"
                @change="take(name, ($event.target as HTMLInputElement).checked)"
              />
              {{ name }}</label
            >
            <span class="note min-w-0 flex-1 truncate"
              >{{ most(name)?.words ?? 'of this installation, not saved yet'
              }}{{ most(name) ? ` · ${range(most(name))}` : '' }}</span
            >
            <input
              v-if="taken(name) && (most(name)?.mostFacility || index >= 0)"
              class="field w-40! py-1 font-mono"
              :value="(taken(name)!.facilities ?? []).join(', ')"
              placeholder="every facility"
              :aria-label="`Accepted facility codes of ${name}`"
              @change="codes(name, ($event.target as HTMLInputElement).value)"
            />
            <button
              class="btn btn-quiet px-1 py-0"
              :aria-expanded="chosen === name"
              @click="chosen = chosen === name ? '' : name"
            >
              {{ chosen === name ? 'Close' : 'Bits' }}
            </button>
          </div>
          <template v-if="chosen === name">
            <FormatEditor
              v-if="index >= 0"
              :model-value="own[index]!"
              :path="`formats[${index}]`"
              :read="bits"
              @update:model-value="(o) => setOwn(index, o)"
              @remove="removeOwn(index)"
            />
            <div v-else class="p-3.5">
              <BitRuler
                v-if="layout && layout.number.bits"
                :layout="layout"
                :read="bits.length === layout.bits ? bits : undefined"
              />
              <p v-else class="text-ash">{{ most(name)?.words }}: it is not laid out in fields of bits.</p>
            </div>
          </template>
        </template>
      </section>

      <section v-if="accepted.length" class="card" aria-label="Facility codes">
        <div class="card-head">
          <h2>Names of facility codes</h2>
          <span class="note">whose cards they are</span>
        </div>
        <div class="grid grid-cols-3 gap-3 p-3.5 max-md:grid-cols-1">
          <FormField v-for="c in accepted" :key="c" v-slot="f" :label="`Code ${c}`">
            <input
              :id="f.id"
              class="field"
              :value="codeName(c)"
              placeholder="no name"
              @change="nameCode(c, ($event.target as HTMLInputElement).value.trim())"
            />
          </FormField>
        </div>
      </section>
    </template>
    <template #aside>
      <p v-if="dirty" class="card p-3 text-[13px]">Holds at every reader; takes effect when sent to all controllers.</p>
      <SheetSave :sheet="edit" of="Settings" />
      <h2>The ruler</h2>
      <div class="card space-y-1.5 p-3 text-[13px] leading-relaxed">
        <p>
          <span class="mode-card inline-block w-6 rounded border border-edge text-center font-mono text-[12px]">F</span>
          facility code
        </p>
        <p>
          <span class="inline-block w-6 rounded border border-edge bg-mode-free text-center font-mono text-[12px]"
            >N</span
          >
          card number
        </p>
        <p>
          <span class="inline-block w-6 rounded border border-edge bg-mode-card-pin text-center font-mono text-[12px]"
            >P</span
          >
          parity bit
        </p>
        <p>
          The lines below a bit say which parity watches it: <b class="text-kelp">even</b>,
          <b class="text-copper">odd</b>.
        </p>
        <p class="text-ash">Choose what to lay, then drag over bits; or arrows with Shift, then Enter.</p>
      </div>
      <template v-if="chosen && most(chosen)?.used">
        <h2>{{ chosen }}</h2>
        <p class="card p-3 text-[13px]">Used by {{ most(chosen)!.used }}.</p>
      </template>
    </template>
  </SheetFrame>
</template>
