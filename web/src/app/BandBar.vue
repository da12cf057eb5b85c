<script setup lang="ts">
import { Hand, ShieldCheck } from '@lucide/vue'
import { useNow } from '@vueuse/core'
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { draftList } from '../core/drafts'
import { useSite } from '../core/site'
import { at, dateOf } from '../words'
import AskField from './AskField.vue'
import { doorOf, stationPath, stations } from './places'

defineProps<{ spine?: boolean }>()
defineEmits<{ doors: [] }>()
const site = useSite()
const route = useRoute()

const counts = computed<Record<string, { n: number; what: string } | undefined>>(() => {
  const o = site.overview!
  return {
    Build:
      o.found + o.build
        ? { n: o.found + o.build, what: 'controllers found, and findings in what is built' }
        : undefined,
    Hours: o.findings ? { n: o.findings, what: 'findings in the hours' } : undefined,
    People: o.people ? { n: o.people, what: 'findings about people and what they hold' } : undefined,
    Rules: o.rules ? { n: o.rules, what: 'findings about rules' } : undefined,
    Send: o.lacking ? { n: o.lacking, what: 'controllers lack something' } : undefined,
    Watch: o.alarms ? { n: o.alarms, what: 'alarms not acknowledged' } : undefined,
  }
})

const now = useNow({ interval: 1000 })
const place = computed(() => {
  const door = site.door(doorOf(route))
  const first = site.overview!.sites[0]
  return { zone: door?.zone ?? first?.zone ?? 'UTC', name: door?.site ?? first?.name ?? '' }
})
const clock = computed(() => {
  const t = now.value.getTime() + site.skew
  return `${dateOf(t, place.value.zone)} ${at(t, place.value.zone, { hour: '2-digit', minute: '2-digit' })}`
})
const offset = computed(() => {
  const part = new Intl.DateTimeFormat('en-GB', {
    timeZone: place.value.zone,
    timeZoneName: 'shortOffset',
  }).formatToParts(now.value)
  return (part.find((p) => p.type === 'timeZoneName')?.value ?? '').replace('GMT', 'UTC')
})
/** The doors that somebody holds, or that are locked down or released, by hand. */
const held = computed(() =>
  site.overview!.sites.flatMap((s) => s.floors.flatMap((f) => f.doors.filter((d) => d.hand && !d.offline))),
)
/** Something stands at the right already. */
const pushed = computed(() => held.value.length > 0 || site.overview!.guard !== '')
const away = computed(() => draftList.value.filter((d) => d.path !== route.fullPath))
</script>

<template>
  <header
    class="print:hidden flex min-h-[56px] items-center gap-4 bg-basalt pr-4 text-paper max-xl:gap-2 max-xl:pr-2 max-[900px]:flex-wrap max-[900px]:py-2"
  >
    <RouterLink
      to="/build"
      class="band-focus flex w-[244px] shrink-0 items-center gap-3 pl-5 max-xl:w-[44px] max-xl:pl-3"
      :aria-label="`Amber Keystone ${site.overview!.name}`"
    >
      <img src="/keystone.svg" alt="" class="h-7" width="27" height="28" />
      <span class="min-w-0 leading-tight max-xl:hidden">
        <b class="block text-[15px]">Amber Keystone</b>
        <span class="block truncate text-[12px] text-seam">{{ site.overview!.name }}</span>
      </span>
    </RouterLink>
    <button
      v-if="spine"
      class="band-focus btn border-basalt-2 bg-basalt-2 text-paper hover:bg-basalt-2/70"
      @click="$emit('doors')"
    >
      Doors
    </button>
    <nav
      aria-label="Stations"
      class="flex gap-[3px] max-[900px]:order-last max-[900px]:w-full max-[900px]:flex-wrap max-[900px]:pl-3"
    >
      <RouterLink
        v-for="s in stations"
        :key="s.path"
        :to="stationPath(s.path, route)"
        class="group outline-none"
        :aria-current="route.path.startsWith(s.path) ? 'page' : undefined"
      >
        <span
          class="stone flex h-8 items-center gap-1.5 px-[13px] font-semibold max-xl:px-[9px]"
          :class="route.path.startsWith(s.path) ? 'bg-amber text-amber-ink' : 'bg-basalt-2 hover:bg-basalt-2/70'"
        >
          <span class="font-mono text-[11px] font-normal max-xl:hidden">{{ s.n }}</span>
          <span class="underline-offset-4 group-focus-visible:underline group-focus-visible:decoration-2">{{
            s.name
          }}</span>
          <span
            v-if="counts[s.name]"
            class="pill bg-plaster text-ink"
            :title="`${counts[s.name]!.n} ${counts[s.name]!.what}`"
            >{{ counts[s.name]!.n }}<span class="sr-only"> {{ counts[s.name]!.what }}</span></span
          >
        </span>
      </RouterLink>
    </nav>
    <RouterLink
      v-if="held.length"
      to="/rules/hand"
      class="band-focus pill ml-auto shrink-0 border border-violet bg-paper px-2 py-1 text-[12px] font-semibold text-violet"
      :title="held.map((d) => `${d.name}: ${d.hand}`).join(', ')"
      ><Hand class="mr-1 inline size-3.5" aria-hidden="true" />{{ held.length
      }}<span class="sr-only"> by hand</span></RouterLink
    >
    <RouterLink
      v-if="site.overview!.guard"
      to="/rules/alarm-areas"
      class="band-focus pill max-w-44 shrink-0 truncate border px-2 py-1 text-[12px] font-semibold"
      :class="[
        site.overview!.intrusion ? 'border-wine bg-wine text-paper' : 'border-seam bg-paper text-ink',
        held.length ? '' : 'ml-auto',
      ]"
      :title="site.overview!.guard"
      ><ShieldCheck class="mr-1 inline size-3.5" aria-hidden="true" /><span class="max-2xl:sr-only">{{
        site.overview!.guard
      }}</span
      ><span class="2xl:hidden" aria-hidden="true">{{ site.overview!.armed }}</span></RouterLink
    >
    <RouterLink
      v-if="away.length"
      :to="away[0]!.path"
      class="band-focus pill shrink-0 border border-amber px-2 py-1 text-[12px] text-amber"
      :class="pushed ? '' : 'ml-auto'"
      :title="away.map((d) => `${d.kind} ${d.name}`).join(', ')"
      >{{ away.length === 1 ? `unsaved: ${away[0]!.name}`.slice(0, 22) : `${away.length} unsaved` }}</RouterLink
    >
    <AskField class="shrink max-xl:w-[150px]!" :class="away.length || pushed ? '' : 'ml-auto'" />
    <div class="shrink-0 text-right leading-tight" :title="`Time zone data ${site.overview!.zoneData}`">
      <p class="font-mono text-[13px] font-semibold">{{ clock }}</p>
      <p class="font-mono text-[11px] text-seam">
        {{ place.zone.split('/').at(-1)?.replaceAll('_', ' ') }} · {{ offset }}
      </p>
    </div>
  </header>
</template>

<style scoped>
.stone {
  clip-path: polygon(6px 0, 100% 0, calc(100% - 6px) 100%, 0 100%);
}
/* The stones are cut, and an outline would be cut with them: their ring lies around the link. */
.group:focus-visible {
  outline: 2px solid var(--color-amber);
  outline-offset: 2px;
}
</style>
