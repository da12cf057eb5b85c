<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import SignIn from './SignIn.vue'
import BandBar from './parts/BandBar.vue'
import KeyHelp from './parts/KeyHelp.vue'
import SiteSpine from './parts/SiteSpine.vue'
import { connected } from './api/live'
import { useSite } from './site'

const site = useSite()
const route = useRoute()
const problem = ref('')

async function start() {
  try {
    await site.start()
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
onMounted(start)
</script>

<template>
  <p v-if="problem" role="alert" class="p-10 text-wine">{{ problem }} <button class="btn" @click="start">Try again</button></p>
  <template v-else-if="site.session">
    <SignIn v-if="!site.session.name" @entered="start" />
    <div v-else-if="site.overview" class="grid h-screen min-w-[1024px] grid-cols-[248px_minmax(0,1fr)] grid-rows-[56px_minmax(0,1fr)]">
      <BandBar class="col-span-2" />
      <SiteSpine />
      <div class="relative min-h-0">
        <p v-if="!connected" role="status" class="absolute inset-x-0 top-0 z-10 bg-wine px-4 py-1 text-center text-[13px] font-semibold text-paper">
          No live connection; what you see may be old. Trying again …
        </p>
        <RouterView :key="route.path" />
      </div>
      <KeyHelp />
    </div>
  </template>
</template>
