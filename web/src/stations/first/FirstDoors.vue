<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import SheetFrame from '../../ui/SheetFrame.vue'
import FirstBegin from './FirstBegin.vue'
import FirstBoxes from './FirstBoxes.vue'
import FirstRows from './FirstRows.vue'
import FirstWhen from './FirstWhen.vue'
import FirstWho from './FirstWho.vue'
import { steps, useFirst } from './first'

/** The short way from nothing to working doors: five steps on one page, nothing is done before the last. */
const all = useFirst()
const { first, boxes, doors, people } = all
const router = useRouter()
const body = ref<HTMLElement>()
const step = computed({
  get: () => first.value.step,
  set: (n: number) => {
    first.value.step = n
    void nextTick(() => body.value?.querySelector<HTMLElement>('[autofocus], input, button')?.focus())
  },
})
const said = computed(() => [
  boxes.value.map((b) => b.name).join(', ') || 'none yet',
  doors.value.map((d) => d.name).join(', ') || 'none yet',
  first.value.when === 'always' ? 'at all hours' : 'in hours of your own',
  people.value.map((p) => p.name).join(', ') || 'nobody yet',
  '',
])
const next = () => (step.value = Math.min(step.value + 1, steps.length - 1))
function finished(door?: number) {
  all.forget()
  void router.push(door ? `/prove/${door}` : '/build')
}
</script>

<template>
  <SheetFrame
    title="First doors"
    under="From a found controller to working doors; nothing is done before the last step, everything can be changed later"
  >
    <ol class="mb-4 grid grid-cols-5 gap-1.5 max-md:grid-cols-1">
      <li v-for="(name, i) in steps" :key="name">
        <button
          class="flex w-full flex-col rounded-md border px-2.5 py-1.5 text-left"
          :class="step === i ? 'border-ink bg-mode-card' : 'border-seam bg-paper hover:bg-lime'"
          :aria-current="step === i ? 'step' : undefined"
          :disabled="all.busy.value"
          @click="step = i"
        >
          <span class="text-[13px] font-semibold"
            ><span class="font-mono">{{ i + 1 }}</span> {{ name }}</span
          ><span class="w-full truncate text-[12px]" :class="step === i ? '' : 'text-ash'">{{
            said[i] || '\u00a0'
          }}</span>
        </button>
      </li>
    </ol>
    <form ref="body" class="space-y-4" @submit.prevent="next">
      <FirstBoxes v-if="step === 0" :all="all" />
      <FirstRows v-else-if="step === 1" :all="all" />
      <FirstWhen v-else-if="step === 2" :all="all" />
      <FirstWho v-else-if="step === 3" :all="all" />
      <FirstBegin v-else :all="all" @done="finished" />
      <div v-if="step < 4" class="flex gap-2">
        <button class="btn btn-amber">Next: {{ steps[step + 1] }}</button>
        <button type="button" class="btn btn-quiet" @click="next">Skip</button>
      </div>
    </form>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p v-if="step === 0">
          <b>Which box is which?</b> Let one blink; the light on its front flashes for ten seconds.
        </p>
        <p v-else-if="step === 1">
          <b>A name for its place.</b> In an alarm at night a name says where to go. Empty rows are left out. The
          hardware is the usual: a strike, a contact, an exit button.
        </p>
        <p v-else-if="step === 2"><b>One answer for everybody</b> to begin with; levels and plans come later.</p>
        <p v-else-if="step === 3">
          <b>Present one card after another</b> at any reader of these controllers; each becomes a row. Type the name
          while the next one is fetched.
        </p>
        <p v-else>
          <b>Read it once.</b> It says everything that will happen. It can be undone piece by piece in History.
        </p>
        <p class="text-ash">What you said is kept while this page is open, also when you go elsewhere.</p>
      </div>
    </template>
  </SheetFrame>
</template>
