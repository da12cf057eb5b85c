<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import AlarmPill from '../../ui/AlarmPill.vue'
import type { Hand } from './useBench'

/** The alarm area of the door at the bench: what it is in, and its inputs, to be moved by hand. */
const props = defineProps<{ area: Schemas['BenchArea']; play: (hand: Hand) => unknown }>()
const turn = (x: Schemas['BenchInput']) =>
  void props.play({ do: x.active ? 'input-rest' : 'input-active', inputId: x.id })
</script>

<template>
  <section class="flex flex-wrap items-center gap-x-2.5 gap-y-1.5 border-t border-seam p-2.5" aria-label="Alarm area">
    <RouterLink class="text-[13px] font-semibold underline" to="/rules/alarm-areas">{{ area.name }}</RouterLink>
    <AlarmPill :state="area.state" :called="area.called" />
    <span class="text-[13px]" role="status">{{ area.words }}</span>
    <span class="basis-full" />
    <button
      v-for="x in area.inputs"
      :key="x.id"
      type="button"
      class="btn px-2.5 py-1"
      :class="x.active ? 'btn-wine' : ''"
      :aria-pressed="x.active"
      @click="turn(x)"
    >
      {{ x.name
      }}<span class="note ml-1 font-normal" :class="x.active ? 'text-wine!' : ''">{{
        x.active ? 'active' : 'at rest'
      }}</span>
    </button>
  </section>
</template>
