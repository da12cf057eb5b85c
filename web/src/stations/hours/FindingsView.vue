<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import FindingCard from '../../parts/FindingCard.vue'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'
import HoursTabs from './HoursTabs.vue'

const site = useSite()
const list = ref<Schemas['Finding'][]>()
async function load() {
  list.value = await ask(api.GET('/api/findings'))
}
onMounted(load)
watch(() => site.version, load)
const groups = [['wrong', 'Wrong'], ['risky', 'Risky'], ['untidy', 'Untidy']] as const
</script>

<template>
  <SheetFrame title="Hours" under="Findings: what is wrong, risky or incomplete in the hours, with the mend">
    <HoursTabs />
    <p v-if="list && !list.length" class="card p-4 text-ash">Nothing to find: holidays are entered, plans answer them, and every schedule is used.</p>
    <template v-for="[k, words] in groups" :key="k">
      <section v-if="list?.some((f) => f.severity === k)" class="mb-4" :aria-label="words">
        <h2 class="mb-1.5">{{ words }} <span class="note font-normal">{{ list.filter((f) => f.severity === k).length }}</span></h2>
        <div class="grid gap-2"><FindingCard v-for="f in list.filter((x) => x.severity === k)" :key="f.code + f.id" :finding="f" /></div>
      </section>
    </template>
    <template #aside><div class="card space-y-2 p-3 text-[13px] leading-relaxed"><p><b>Wrong</b> never works as it stands.</p><p><b>Risky</b> may open or close a door when nobody means it.</p><p><b>Untidy</b> does no harm, and hides what does.</p><p>What a click does can be turned back in History.</p></div></template>
  </SheetFrame>
</template>
