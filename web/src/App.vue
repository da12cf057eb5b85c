<script setup lang="ts">
import { onBeforeUnmount, onErrorCaptured, onMounted, ref } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import SignIn from './SignIn.vue'
import BandBar from './parts/BandBar.vue'
import KeyHelp from './parts/KeyHelp.vue'
import SiteSpine from './parts/SiteSpine.vue'
import SureBox from './parts/SureBox.vue'
import { Trouble } from './api/client'
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
/** What no screen has caught: a session that ended leads to signing in, the rest is said at the top. */
const slip = ref('')
function slipped(e: unknown) {
  if (e instanceof Trouble && e.status === 401) {
    site.session = undefined
    void start()
    return
  }
  slip.value = e instanceof Trouble ? e.message : 'Something on this screen went wrong. Nothing was written; load the page again.'
  if (!(e instanceof Trouble)) console.error(e)
}
onErrorCaptured((e) => { slipped(e); return false })
const rejected = (e: PromiseRejectionEvent) => { slipped(e.reason); e.preventDefault() }
onMounted(() => { void start(); window.addEventListener('unhandledrejection', rejected) })
onBeforeUnmount(() => window.removeEventListener('unhandledrejection', rejected))
</script>

<template>
  <p v-if="problem" role="alert" class="p-10 text-wine">{{ problem }} <button class="btn" @click="start">Try again</button></p>
  <template v-else-if="site.session">
    <SignIn v-if="!site.session.name" @entered="start" />
    <div v-else-if="site.overview" class="grid h-screen min-w-[1024px] grid-cols-[248px_minmax(0,1fr)] max-xl:grid-cols-[204px_minmax(0,1fr)] grid-rows-[56px_minmax(0,1fr)]">
      <BandBar class="col-span-2" />
      <SiteSpine />
      <div class="relative min-h-0">
        <p v-if="!connected" role="status" class="absolute inset-x-0 top-0 z-10 bg-wine px-4 py-1 text-center text-[13px] font-semibold text-paper">
          No live connection; what you see may be old. Trying again …
        </p>
        <p v-if="slip" role="alert" class="absolute inset-x-0 top-0 z-10 flex items-center justify-center gap-3 bg-wine px-4 py-1.5 font-semibold text-paper">{{ slip }} <button class="underline" @click="slip = ''">Close</button></p>
        <RouterView :key="route.path" />
      </div>
      <KeyHelp />
      <SureBox />
    </div>
  </template>
</template>
