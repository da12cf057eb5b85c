<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { placePath } from '../router'
import PeekName from './PeekName.vue'
import { useSite } from '../site'

const props = defineProps<{ id: number; none: string }>()
const site = useSite()
const route = useRoute()
const list = ref<Schemas['Place'][]>()
async function load() {
  list.value = await ask(api.GET('/api/used-by/{id}', { params: { path: { id: props.id } } }))
}
onMounted(load)
watch(() => site.version, load)
</script>

<template>
  <h2>Used by</h2>
  <div v-if="list" class="card text-[13px]">
    <p v-if="!list.length" class="p-3 text-ash">{{ none }}</p>
    <div v-for="p in list" :key="p.id" class="row py-1.5">
      <PeekName v-if="p.kind === 'level' || p.kind === 'plan' || p.kind === 'schedule' || p.kind === 'door'" :kind="p.kind" :id="p.id" :name="p.name" />
      <RouterLink v-else :to="placePath(p.kind, p.id, route.path)" class="underline underline-offset-3">{{ p.name }}</RouterLink><span class="note ml-auto">{{ p.kind }}</span>
    </div>
  </div>
</template>
