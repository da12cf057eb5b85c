<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { placePath } from '../router'
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
    <RouterLink v-for="p in list" :key="p.id" :to="placePath(p.kind, p.id, route.path)" class="row py-1.5 hover:bg-lime">{{ p.name }}<span class="note ml-auto">{{ p.kind }}</span></RouterLink>
  </div>
</template>
