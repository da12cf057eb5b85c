<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useDraft } from '../../draft'
import { useConsequence } from '../../parts/consequence'
import EffectCard from '../../parts/EffectCard.vue'
import SaveBar from '../../parts/SaveBar.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import UsedBy from '../../parts/UsedBy.vue'
import { sure } from '../../parts/sure'
import { useSite } from '../../site'

const site = useSite()
const router = useRouter()
const route = useRoute()
const id = route.params.id === 'new' ? 0 : Number(route.params.id)
const path = { path: { id } }
const edit = useDraft<Schemas['Level']>(
  async () => (id ? ask(api.GET('/api/levels/{id}', { params: path })) : { rev: 0, value: { id: 0, name: '', entries: [] } }),
  (value, rev) => (id ? ask(api.PUT('/api/levels/{id}', { params: path, body: { rev, value } })) : ask(api.POST('/api/levels', { body: value }))),
  save,
)
const { draft, stored, dirty, busy, problem, fields, missing } = edit
const schedules = ref<Schemas['Schedule'][]>([])
const holders = ref(0)
const brush = ref(0)

onMounted(async () => {
  void edit.reload()
  schedules.value = (await ask(api.GET('/api/schedules', { params: { query: { limit: 1000 } } }))).items.map((s) => s.value)
  brush.value = schedules.value.find((s) => s.name === 'Always')?.id ?? 0
  if (id) holders.value = (await ask(api.GET('/api/used-by/{id}', { params: path }))).length
})
const floors = computed(() => site.overview!.sites.flatMap((s) => s.floors.filter((f) => f.doors.length).map((f) => ({ key: f.id, name: `${s.name}, ${f.name}`, doors: f.doors }))))
const entries = (door: number) => draft.value!.entries.filter((e) => e.doorId === door)
function toggle(door: number, on: boolean) {
  draft.value!.entries = draft.value!.entries.filter((e) => e.doorId !== door)
  if (on) draft.value!.entries.push({ doorId: door, scheduleId: brush.value })
}
function whole(doors: { id: number }[]) {
  const all = doors.every((d) => entries(d.id).length)
  for (const d of doors) if (all || !entries(d.id).length) toggle(d.id, !all)
}
const effect = useConsequence(() => (id && dirty.value ? { level: draft.value } : undefined))
async function save() {
  if ((await edit.save()) && !id) void router.replace(`/people/levels/${stored.value!.value.id}`)
}
async function remove() {
  if (!(await sure(`Remove ${stored.value!.value.name}?`, 'History can bring it back.', 'Remove it'))) return
  try {
    await ask(api.DELETE('/api/levels/{id}', { params: { ...path, query: { rev: stored.value!.rev } } }))
    edit.leave('/people')
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <SheetFrame title="Access level">
    <template #title><input v-if="draft" v-model="draft.name" class="-ml-1.5 w-full max-w-md rounded-md border border-transparent bg-transparent px-1.5 text-[22px] font-bold hover:border-seam focus:border-seam focus:bg-paper" placeholder="Name of the level" aria-label="Name" :aria-invalid="!!fields.name" :autofocus="!id" /></template>
    <template #under>Access level: these doors, each during a schedule</template>
    <template #actions><button v-if="id" class="btn" @click="remove">Remove</button></template>
    <p v-if="missing" class="text-wine">{{ problem }}</p>
    <template v-if="draft && !missing">
      <p class="mb-3 flex flex-wrap items-center gap-2 text-[13px]"><label for="brush" class="text-ash">Doors that you tick open during</label><select id="brush" v-model.number="brush" class="field w-auto! py-0.5"><option v-for="s in schedules" :key="s.id" :value="s.id">{{ s.name }}</option></select><label class="ml-auto flex items-center gap-1.5"><input v-model="draft.opensDay" type="checkbox" /> opens the day: gives the first card where a door wants one</label></p>
      <p v-if="!floors.length" class="text-ash">There are no doors yet; Build is where they are named.</p>
      <section v-for="f in floors" :key="f.key" class="card mb-3">
        <div class="card-head"><h2>{{ f.name }}</h2><button class="btn btn-quiet px-1 py-0 text-[13px]" @click="whole(f.doors)">all or none</button></div>
        <div v-for="d in f.doors" :key="d.id" class="row py-1.5">
          <label class="flex w-64 items-center gap-2.5"><input type="checkbox" :checked="entries(d.id).length > 0" @change="toggle(d.id, ($event.target as HTMLInputElement).checked)" />{{ d.name }}</label>
          <span class="flex flex-wrap gap-2"><select v-for="(e, i) in entries(d.id)" :key="i" v-model.number="e.scheduleId" class="field w-48! py-0.5" :aria-label="`Schedule at ${d.name}`"><option v-for="s in schedules" :key="s.id" :value="s.id">{{ s.name }}</option></select></span>
        </div>
      </section>
    </template>
    <template #aside>
      <template v-if="dirty && id">
        <h2>What this edit does</h2>
        <p class="text-[13px]"><b>{{ holders }}</b> {{ holders === 1 ? 'person has' : 'people have' }} this level.</p>
        <EffectCard :effect="effect" none="" />
      </template>
      <SaveBar :dirty="(dirty || !id) && !missing" :busy="busy" :problem="missing ? '' : problem" :save-label="id ? 'Save' : 'Add the level'" @save="save" @discard="id ? edit.discard() : edit.leave('/people')" />
      <UsedBy v-if="id" :id="id" none="Nobody has it yet." />
    </template>
  </SheetFrame>
</template>
