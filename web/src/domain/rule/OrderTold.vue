<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { many } from '../../words'

/** What came of an order: what each controller answered, and which did not. */
const props = defineProps<{ answer: Schemas['OrderAnswer'] }>()
const missed = computed(() => props.answer.answers.filter((a) => !a.reached))
</script>

<template>
  <div class="border-t border-seam px-3.5 py-2.5 text-[13px]" role="status" aria-label="What came of it">
    <p class="font-semibold" :class="missed.length ? 'text-wine' : 'text-kelp'">{{ answer.words }}</p>
    <p v-for="a in answer.answers" :key="a.controller" :class="a.reached ? 'note' : 'font-semibold text-wine'">
      {{ a.controller }}<template v-if="a.doors.length > 1">, {{ many(a.doors.length, 'door', 'doors') }}</template
      >: {{ a.words }}
    </p>
    <p v-if="missed.length" class="font-semibold text-wine">
      {{ many(missed.length, 'controller', 'controllers') }} did not answer.
    </p>
    <p v-if="answer.left.length" class="note">
      Left out, as their sheets say: {{ answer.left.map((d) => d.name).join(', ') }}
    </p>
  </div>
</template>
