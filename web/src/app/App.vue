<script setup lang="ts">
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { onErrorCaptured, onMounted, ref, watch } from 'vue'
import { RouterView, useRoute, useRouter } from 'vue-router'
import { Trouble } from '../api/client'
import { draftList } from '../core/drafts'
import { useKeys } from '../core/keys'
import { connected } from '../core/live'
import { client } from '../core/query'
import { useSite } from '../core/site'
import SureBox from '../ui/SureBox.vue'
import StateBox from '../ui/StateBox.vue'
import AlarmVoice from './AlarmVoice.vue'
import AwaitingBar from './AwaitingBar.vue'
import BandBar from './BandBar.vue'
import KeyHelp from './KeyHelp.vue'
import { style } from '../clock'
import { doorOf, stationPath, stations } from './places'
import { viewKey } from './router'
import SignIn from './SignIn.vue'
import SiteSpine from './SiteSpine.vue'

const site = useSite()
const route = useRoute()
const router = useRouter()
const problem = ref('')
const wide = useMediaQuery('(min-width: 900px)')
const spine = ref(false)

async function start() {
  try {
    await site.start()
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
/** What no screen has caught: a session that ended leads to signing in over the page, the rest is said at the top. */
const slip = ref('')
function slipped(e: unknown) {
  if (e instanceof Trouble && e.status === 401) site.ended = true
  else if ((e as Error)?.name !== 'CancelledError') {
    slip.value =
      e instanceof Trouble
        ? e.message
        : 'Something on this screen went wrong. Nothing was written; load the page again.'
    if (!(e instanceof Trouble)) console.error(e)
  }
}
client.getQueryCache().config.onError = (e) => {
  if (e instanceof Trouble && e.status === 401) site.ended = true
}
onErrorCaptured((e) => {
  slipped(e)
  return false
})
useEventListener(window, 'unhandledrejection', (e: PromiseRejectionEvent) => {
  slipped(e.reason)
  e.preventDefault()
})
useEventListener(window, 'beforeunload', (e: BeforeUnloadEvent) => draftList.value.length && e.preventDefault())
watch(
  () => route.path,
  () => (spine.value = false),
)
// Times and weeks are written as the site wants that is looked at: that of the door, else the first.
watch(
  () => {
    const sites = site.overview?.sites ?? []
    return sites.find((s) => s.id === site.door(doorOf(route))?.siteId) ?? sites[0]
  },
  (s) => {
    if (s && (s.twelveHour !== style.value.twelveHour || s.fromSunday !== style.value.fromSunday))
      style.value = { twelveHour: s.twelveHour, fromSunday: s.fromSunday }
  },
  { immediate: true },
)
onMounted(start)
useKeys(
  'Everywhere',
  stations.map((s) => ({ keys: `Alt+${s.n}`, what: s.name, run: () => void router.push(stationPath(s.path, route)) })),
)
const skip = () => (document.getElementById('page-title') ?? document.getElementById('content'))?.focus()
</script>

<template>
  <p v-if="problem" role="alert" class="p-10 text-wine">
    {{ problem }} <button class="btn" @click="start">Try again</button>
  </p>
  <template v-else-if="site.session">
    <SignIn v-if="!site.session.name" @entered="start" />
    <div
      v-else-if="site.overview"
      class="grid h-screen grid-cols-[248px_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)] max-xl:grid-cols-[204px_minmax(0,1fr)] max-[900px]:block max-[900px]:h-auto"
    >
      <a
        href="#page-title"
        class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:m-2 focus:rounded-md focus:bg-paper focus:px-3 focus:py-2 focus:font-semibold"
        @click.prevent="skip"
        >Skip to the content</a
      >
      <BandBar class="col-span-2" :spine="!wide" @doors="spine = !spine" />
      <SiteSpine v-if="wide || spine" />
      <div class="relative min-h-0 min-w-0">
        <p
          v-if="!connected"
          role="status"
          class="absolute inset-x-0 top-0 z-10 bg-wine px-4 py-1 text-center text-[13px] font-semibold text-paper"
        >
          No live connection; what you see may be old. Trying again …
        </p>
        <p
          v-if="slip"
          role="alert"
          class="absolute inset-x-0 top-0 z-10 flex items-center justify-center gap-3 bg-wine px-4 py-1.5 font-semibold text-paper"
        >
          {{ slip }} <button class="underline" @click="slip = ''">Close</button>
        </p>
        <AwaitingBar />
        <RouterView v-slot="{ Component }"><component :is="Component" :key="viewKey(route)" /></RouterView>
      </div>
      <KeyHelp />
      <SureBox />
      <AlarmVoice />
      <SignIn v-if="site.ended" over @entered="site.entered" />
    </div>
    <main v-else class="p-10">
      <StateBox loading :error="site.problem ? new Error(site.problem) : undefined" :again="start" />
    </main>
  </template>
</template>
