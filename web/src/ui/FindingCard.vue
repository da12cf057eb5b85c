<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../api/client'
import { inClock } from '../clock'
import { placePath } from '../app/places'

const props = defineProps<{ finding: Schemas['Finding'] }>()
const problem = ref('')
const busy = ref(false)
async function mend() {
  busy.value = true
  try {
    await ask(api.POST('/api/findings/mend', { body: { code: props.finding.code, id: props.finding.id } }))
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
const path = () =>
  props.finding.code === 'no-holidays'
    ? '/hours/holidays/load'
    : placePath(props.finding.kind, props.finding.id, `/${props.finding.station}`)
</script>

<template>
  <article
    class="card border-l-4 p-3 text-[13px] leading-relaxed"
    :class="finding.severity === 'untidy' ? 'border-l-seam' : 'border-l-wine'"
    :aria-label="`${finding.severity}: ${finding.name}`"
  >
    <p>
      <RouterLink
        class="font-bold underline decoration-dotted underline-offset-3"
        :class="finding.severity === 'untidy' ? '' : 'text-wine'"
        :to="path()"
        >{{ finding.name }}</RouterLink
      >
      <span class="note text-[12px]">{{ finding.kind }}</span>
    </p>
    <p>{{ inClock(finding.words) }}</p>
    <p class="note mt-0.5">
      {{ finding.mend }}
      <button v-if="finding.click" class="btn ml-1 px-2 py-0 text-[12.5px] text-ink" :disabled="busy" @click="mend">
        {{ finding.click }}
      </button>
    </p>
    <p v-if="problem" role="alert" class="font-semibold text-wine">{{ problem }}</p>
  </article>
</template>
