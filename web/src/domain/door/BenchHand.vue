<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import ObjectPicker from '../../ui/ObjectPicker.vue'

/** The cards in hand, where several people come together, and the door that stands beside. */
const props = defineProps<{ door: number; picked?: Schemas['WalletCard'] }>()
const cards = defineModel<Schemas['WalletCard'][]>('cards', { required: true })
const beside = defineModel<number>('beside', { required: true })
const emit = defineEmits<{ take: [card: Schemas['WalletCard']]; all: []; both: [] }>()
const holds = computed(() => cards.value.some((c) => c.bits === props.picked?.bits))
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1.5 text-[13px]" role="group" aria-label="In hand">
    <button v-if="picked" type="button" class="btn px-2.5 py-1" @click="emit('take', picked)">
      {{ holds ? 'Put back' : 'Take in hand' }}<span class="sr-only">: {{ picked.label }}</span>
      <span class="key">H</span>
    </button>
    <span v-if="!cards.length" class="note">several cards in hand are presented one after the other</span>
    <template v-else>
      <span
        >In hand: <b>{{ cards.map((c) => c.label).join(', ') }}</b></span
      >
      <button type="button" class="btn px-2.5 py-1" @click="emit('all')">
        Present {{ cards.length === 1 ? 'it' : `all ${cards.length}` }} <span class="key">A</span>
      </button>
      <button type="button" class="btn btn-quiet px-1" @click="cards = []">Put all back</button>
    </template>
    <span class="ml-auto flex items-center gap-2">
      <button v-if="beside && beside !== door" type="button" class="btn px-2.5 py-1" @click="emit('both')">
        At both doors at once
      </button>
      <ObjectPicker
        v-model="beside"
        kind="door"
        class="w-48"
        label="Another door beside"
        placeholder="Another door beside"
        :besides="[{ id: 0, name: 'no door beside' }]"
        :leave-out="[door]"
      />
    </span>
  </div>
</template>
