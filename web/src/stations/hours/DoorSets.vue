<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useAll } from '../../core/query'
import { useSite } from '../../core/site'
import { sure } from '../../ui/sure'

/** The door sets that there are: what is in each, renamed and removed in place. */
const site = useSite()
const query = useAll('door set')
const sets = computed<Schemas['VersionedDoorSet'][]>(() => query.data.value ?? [])
const editing = ref(0)
const name = ref('')
const problem = ref('')
const names = (ids: number[]) =>
  ids.slice(0, 12).map(site.doorName).join(', ') + (ids.length > 12 ? ` and ${ids.length - 12} more` : '')
async function rename(s: Schemas['VersionedDoorSet']) {
  try {
    await ask(
      api.PUT('/api/door-sets/{id}', {
        params: { path: { id: s.value.id } },
        body: { rev: s.rev, value: { ...s.value, name: name.value } },
      }),
    )
    editing.value = 0
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
async function remove(s: Schemas['VersionedDoorSet']) {
  if (!(await sure(`Remove the door set ${s.value.name}?`, 'Its doors stay. History can bring it back.', 'Remove it')))
    return
  try {
    await ask(api.DELETE('/api/door-sets/{id}', { params: { path: { id: s.value.id }, query: { rev: s.rev } } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
</script>

<template>
  <h2>Door sets</h2>
  <p v-if="problem" role="alert" class="text-[13px] font-semibold text-wine">{{ problem }}</p>
  <div class="card text-[13px]">
    <p v-if="!sets.length" class="p-3 text-ash">None yet. Tick doors in a dated change and keep them as a set.</p>
    <div v-for="s in sets" :key="s.value.id" class="row items-start">
      <form v-if="editing === s.value.id" class="flex flex-1 gap-1.5" @submit.prevent="rename(s)">
        <input
          v-model="name"
          class="field py-0.5"
          aria-label="Name of the set"
          autofocus
          @keydown.esc="editing = 0"
        /><button class="btn btn-amber px-2 py-0.5">Save</button>
      </form>
      <template v-else
        ><span class="min-w-0 flex-1"
          ><b>{{ s.value.name }}</b
          ><span class="note block text-[12px] leading-snug">{{ names(s.value.doorIds) }}</span></span
        >
        <button
          class="btn btn-quiet px-1 py-0 text-[12px]"
          @click="() => ((editing = s.value.id), (name = s.value.name))"
        >
          Rename</button
        ><button class="btn btn-quiet px-1 py-0 text-[12px]" @click="remove(s)">Remove</button></template
      >
    </div>
  </div>
</template>
