<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import { useSite } from '../../core/site'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import { dateOf, many } from '../../words'
import BuildTabs from './BuildTabs.vue'

/** The hardware schedule: every door as it is fitted, for paper and for a spreadsheet. */
const site = useSite()
const query = useComputed(
  'hardware schedule',
  () => [],
  (signal) => ask(api.GET('/api/hardware-schedule', { signal })),
)
const rows = computed<Schemas['HardwareRow'][]>(() => query.data.value ?? [])
/** So many are drawn at once; all of them before it is printed. */
const most = 60
const whole = ref(false)
const places = computed(() => {
  const out = new Map<string, Schemas['HardwareRow'][]>()
  for (const r of whole.value ? rows.value : rows.value.slice(0, most))
    out.set(r.place, [...(out.get(r.place) ?? []), r])
  return [...out]
})
const factory = computed(() => rows.value.filter((r) => r.factory.length > 5).length)
async function print() {
  whole.value = true
  await nextTick()
  window.print()
}
</script>

<template>
  <SheetFrame title="Hardware schedule">
    <template #under
      >{{ site.overview?.name }} · {{ many(rows.length, 'door', 'doors') }} ·
      {{ dateOf(Date.now() + site.skew, site.zone) }}</template
    >
    <template #actions>
      <a class="btn" href="/api/hardware-schedule.csv" download>Save as CSV</a>
      <button class="btn btn-amber" @click="print">Print</button>
    </template>
    <BuildTabs class="print:hidden" />
    <StateBox
      v-if="!query.data.value"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="query.refetch"
    />
    <p v-else-if="!rows.length" class="card p-4 text-ash">No door is built yet; each has a row here then.</p>
    <section v-for="[place, list] in places" :key="place" class="card mb-4 break-inside-avoid" :aria-label="place">
      <div class="card-head">
        <h2>{{ place }}</h2>
        <span class="note">{{ many(list.length, 'door', 'doors') }}</span>
      </div>
      <article
        v-for="r in list"
        :key="r.id"
        class="border-t border-seam px-3.5 py-2 text-[13px] leading-snug break-inside-avoid first:border-t-0"
      >
        <h3 class="flex flex-wrap items-baseline gap-x-3">
          <RouterLink class="font-bold hover:underline" :to="`/build/doors/${r.id}`">{{ r.door }}</RouterLink>
          <span class="note">{{ r.controller }}</span>
          <span class="font-mono text-[12px]">{{ r.terminals }}</span>
        </h3>
        <dl
          class="mt-0.5 grid grid-cols-[auto_minmax(0,1fr)_auto_minmax(0,1fr)] gap-x-2 max-md:grid-cols-[auto_minmax(0,1fr)]"
        >
          <dt class="text-ash">Readers</dt>
          <dd>{{ r.readers }}</dd>
          <dt class="text-ash">Contact</dt>
          <dd>{{ r.contact }}</dd>
          <dt class="text-ash">Lock</dt>
          <dd>{{ r.lock }}; without power it {{ r.power }}</dd>
          <dt class="text-ash">Exit</dt>
          <dd>{{ r.exit }}</dd>
          <dt class="text-ash">Timings</dt>
          <dd>{{ r.timings }}</dd>
          <template v-if="r.factory.length"
            ><dt class="text-ash">Factory</dt>
            <dd class="text-ash">{{ r.factory.join(', ') }}</dd></template
          >
        </dl>
      </article>
    </section>
    <p v-if="!whole && rows.length > most" class="note">
      {{ most }} of {{ many(rows.length, 'door', 'doors') }}.
      <button class="btn px-2 py-0.5" @click="whole = true">Show all</button> Print and CSV have all of them.
    </p>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>
          <b>For the riser and for the hand-over:</b> what hangs at each door, on which terminals, with which timings.
        </p>
        <p v-if="factory">
          {{ many(factory, 'door has', 'doors have') }} nearly everything at its factory value: look whether that is
          what is fitted.
        </p>
      </div>
    </template>
  </SheetFrame>
</template>
