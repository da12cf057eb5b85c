<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useObject } from '../../core/query'
import { useSite } from '../../core/site'
import DoorPortrait from '../../ui/DoorPortrait.vue'
import StateBox from '../../ui/StateBox.vue'
import BenchLog from './BenchLog.vue'
import { useBench } from './useBench'

/** Another door beside the one that is played, as of an interlock or of an area: the same cards are in hand. */
const props = defineProps<{ id: number; name: string; card?: string }>()
const emit = defineEmits<{ away: [] }>()
const site = useSite()
const door = useObject('door', () => props.id)
const { query, bench, problem, play, leaf, exit, state } = useBench(props.id)
const present = (out = false) => props.card && play({ do: 'present', bits: props.card, out })
const zone = computed(() => site.door(props.id)?.zone ?? 'UTC')
defineExpose({ present: (bits: string) => play({ do: 'present', bits }) })
</script>

<template>
  <section class="space-y-3" :aria-label="`Beside: ${name}`">
    <div class="card overflow-hidden">
      <div class="card-head">
        <h2>
          <RouterLink class="underline" :to="`/prove/${id}`">{{ name }}</RouterLink>
        </h2>
        <span v-if="bench" class="note"
          >{{ bench.open ? 'open' : 'closed' }} · {{ bench.released ? 'released' : 'locked' }}</span
        >
        <button type="button" class="btn btn-quiet px-1 py-0" :aria-label="`Put away: ${name}`" @click="emit('away')">
          Put away
        </button>
      </div>
      <StateBox
        v-if="!bench || !door.data.value"
        :loading="query.isPending.value"
        :error="query.error.value"
        :again="() => query.refetch()"
        :rows="5"
      />
      <template v-else>
        <p v-if="problem" role="alert" class="px-3.5 py-1 font-semibold text-wine">{{ problem }}</p>
        <p v-if="!bench.inForce" class="px-3.5 py-1 text-[13px] font-semibold text-wine">
          Its controller does not hold it yet: send first.
        </p>
        <div class="mx-auto max-w-[400px]">
          <DoorPortrait
            :door="door.data.value.value"
            :state="state"
            playable
            @present="present"
            @leaf="leaf"
            @exit="exit"
          />
        </div>
        <div class="flex flex-wrap gap-1.5 border-t border-seam p-2.5">
          <button class="btn px-2.5 py-1" :aria-label="`Present card: ${name}`" @click="present()">Present card</button>
          <button
            v-if="door.data.value.value.out.fitted"
            class="btn px-2.5 py-1"
            :aria-label="`at the reader out: ${name}`"
            @click="present(true)"
          >
            at the reader out
          </button>
          <button class="btn px-2.5 py-1" :aria-label="`${bench.open ? 'Close' : 'Open'}: ${name}`" @click="leaf">
            {{ bench.open ? 'Close' : 'Open' }}
          </button>
          <button
            v-if="door.data.value.value.exit !== 'none'"
            class="btn px-2.5 py-1"
            :aria-label="`Exit: ${name}`"
            @click="exit"
          >
            Exit
          </button>
        </div>
      </template>
    </div>
    <BenchLog v-if="bench" :bench="bench" :zone="zone" />
  </section>
</template>
