<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { useSite } from '../site'
import { stationPath, stations } from '../router'
import { at, dateOf } from '../words'
import AskField from './AskField.vue'

const site = useSite()
const route = useRoute()
const router = useRouter()

const counts = computed<Record<string, { n: number; what: string } | undefined>>(() => ({
  Build: site.overview!.found ? { n: site.overview!.found, what: 'controllers found' } : undefined,
  Hours: site.overview!.findings ? { n: site.overview!.findings, what: 'findings in the hours' } : undefined,
  Send: site.overview!.lacking ? { n: site.overview!.lacking, what: 'controllers lack something' } : undefined,
  Watch: site.overview!.alarms ? { n: site.overview!.alarms, what: 'alarms not acknowledged' } : undefined,
}))

const now = ref(Date.now())
const timer = setInterval(() => (now.value = Date.now()), 1000)
onBeforeUnmount(() => clearInterval(timer))

const place = computed(() => {
  const id = Number(route.params.id)
  const door = site.doors.find((d) => d.id === id)
  const first = site.overview!.sites[0]
  return { zone: door?.zone ?? first?.zone ?? 'UTC', name: door?.site ?? first?.name ?? '' }
})
const clock = computed(() => {
  const t = now.value + site.skew
  return `${dateOf(t, place.value.zone)} ${at(t, place.value.zone, { hour: '2-digit', minute: '2-digit' })}`
})
const offset = computed(() => {
  const part = new Intl.DateTimeFormat('en-GB', { timeZone: place.value.zone, timeZoneName: 'shortOffset' }).formatToParts(now.value)
  return (part.find((p) => p.type === 'timeZoneName')?.value ?? '').replace('GMT', 'UTC')
})

/** Alt with a digit goes to a station, from anywhere. */
function key(e: KeyboardEvent) {
  const s = e.altKey ? stations.find((x) => String(x.n) === e.key) : undefined
  if (!s) return
  e.preventDefault()
  void router.push(stationPath(s.path, route))
}
onMounted(() => window.addEventListener('keydown', key))
onBeforeUnmount(() => window.removeEventListener('keydown', key))
</script>

<template>
  <header class="flex items-center gap-4 bg-basalt pr-4 text-paper max-xl:gap-2 max-xl:pr-2">
    <RouterLink to="/build" class="flex w-[244px] shrink-0 items-center gap-3 pl-5 max-xl:w-[44px] max-xl:pl-3">
      <img src="/keystone.svg" alt="" class="h-7" />
      <span class="min-w-0 leading-tight max-xl:hidden">
        <b class="block text-[15px]">Amber Keystone</b>
        <span class="block truncate text-[12px] text-seam">{{ site.overview!.name }}</span>
      </span>
    </RouterLink>
    <nav aria-label="Stations" class="flex gap-[3px]">
      <RouterLink
        v-for="s in stations"
        :key="s.path"
        :to="stationPath(s.path, route)"
        class="stone flex h-8 items-center gap-1.5 px-[13px] font-semibold max-xl:px-[9px]"
        :class="route.path.startsWith(s.path) ? 'bg-amber text-amber-ink' : 'bg-basalt-2 hover:bg-basalt-2/70'"
        :aria-current="route.path.startsWith(s.path) ? 'page' : undefined"
      >
        <span class="font-mono text-[11px] font-normal opacity-75 max-xl:hidden">{{ s.n }}</span> {{ s.name }}
        <span v-if="counts[s.name]" class="pill bg-plaster text-ink" :title="`${counts[s.name]!.n} ${counts[s.name]!.what}`">{{ counts[s.name]!.n }}</span>
      </RouterLink>
    </nav>
    <AskField class="ml-auto shrink max-xl:w-[150px]!" />
    <div class="shrink-0 text-right leading-tight" :title="`Time zone data ${site.overview!.zoneData}`">
      <p class="font-mono text-[13px] font-semibold">{{ clock }}</p>
      <p class="font-mono text-[11px] text-seam">{{ place.zone.split('/').at(-1)?.replaceAll('_', ' ') }} · {{ offset }}</p>
    </div>
  </header>
</template>

<style scoped>
.stone { clip-path: polygon(6px 0, 100% 0, calc(100% - 6px) 100%, 0 100%); }
</style>
