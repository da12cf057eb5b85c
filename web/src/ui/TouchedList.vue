<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { inClock } from '../clock'
import { many } from '../words'
import PeekName from './PeekName.vue'

/** Who loses and gains what: those with the same together, each with doors and hours. */
const props = defineProps<{ touched: Schemas['Touched'][]; people: number }>()
const told = computed(() => props.touched.reduce((n, t) => n + t.count, 0))
</script>

<template>
  <div class="space-y-2.5 text-[12.5px]">
    <div v-for="(t, i) in touched" :key="i" class="border-l-2 border-seam pl-2.5">
      <p>
        <template v-for="(p, k) in t.people.slice(0, 4)" :key="p.id"
          ><template v-if="k">, </template><PeekName v-if="p.id < 2 ** 53" :id="p.id" kind="person" :name="p.name" /><b
            v-else
            >{{ p.name }}</b
          ></template
        ><template v-if="t.count > 4"> and {{ many(t.count - 4, 'other', 'others') }}</template>
      </p>
      <ul>
        <li v-for="x in t.turns.slice(0, 12)" :key="`${x.door}${x.gains}`">
          <b :class="x.gains ? 'text-kelp' : 'text-wine'">{{ x.gains ? 'gains' : 'loses' }}</b> {{ x.name }}
          <span class="note">{{ inClock(x.when) }}, from {{ x.first }}</span>
        </li>
        <li v-if="t.turns.length > 12" class="note">and {{ many(t.turns.length - 12, 'more door', 'more doors') }}</li>
      </ul>
    </div>
    <p v-if="people > told" class="note">and {{ many(people - told, 'more person', 'more people') }}</p>
  </div>
</template>
