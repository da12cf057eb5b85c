<script setup lang="ts">
import { computed, toRef } from 'vue'
import { fields as said } from '../api/fields'
import type { Phase } from '../core/sheet'
import type { Clash } from '../core/merge'
import { useClashWords } from './clashWords'

const props = defineProps<{
  dirty: boolean
  busy: boolean
  problem: string
  saveLabel?: string
  phase?: Phase
  told?: string
  clashes?: Clash[]
  canUndo?: boolean
  canRedo?: boolean
  /** What is wrong with fields that have no place of their own. */
  rest?: [path: string, words: string][]
  /** The type whose fields clash, for their titles. */
  of?: string
}>()
defineEmits<{ save: []; discard: []; undo: []; redo: []; settle: [c: Clash, whose: 'mine' | 'theirs'] }>()

const title = (path: string) => {
  const found = props.of && said[`${props.of}.${path}`]
  // A part of a list is told by its place in it: credentials 1, kind.
  return found ? found.title : path.replace(/\[(\d+)\]/g, (_, n) => ` ${Number(n) + 1}`).replaceAll('.', ', ')
}
const words = useClashWords(toRef(props, 'clashes'))
const open = computed(() => props.dirty || props.canRedo || !!props.problem || !!props.clashes?.length || !!props.told)
</script>

<!-- It keeps its place at the foot of the side, however much is said above it, so that nothing moves under the hand. -->
<template>
  <div
    v-if="open"
    class="sticky bottom-0 z-10 order-last -mx-3.5 mt-auto space-y-2 border-t border-seam bg-lime px-3.5 py-3 max-xl:-mx-2.5 max-xl:px-2.5"
  >
    <p
      v-if="problem"
      role="alert"
      tabindex="-1"
      data-problem
      class="rounded-md border border-wine bg-paper p-2.5 text-[13px] font-semibold text-wine"
    >
      {{ problem }}
    </p>
    <ul v-if="rest?.length" class="space-y-0.5 text-[13px] font-semibold text-wine" role="alert">
      <li v-for="[path, fault] in rest" :key="path" data-wrong>{{ title(path) }}: {{ fault }}</li>
    </ul>
    <p v-else-if="!problem && told" role="status" class="note">{{ told }}</p>
    <div v-if="clashes?.length" role="alert" class="rounded-md border border-wine bg-paper p-2.5 text-[13px]">
      <p class="font-bold text-wine">Somebody else has changed the same</p>
      <div v-for="c in clashes" :key="c.path" class="mt-1.5">
        <p>{{ title(c.path) }}: here “{{ words(c, 'mine') }}”, theirs “{{ words(c, 'theirs') }}”</p>
        <p class="mt-1 flex gap-1.5">
          <button class="btn px-2 py-0.5" @click="$emit('settle', c, 'mine')">Keep mine</button>
          <button class="btn px-2 py-0.5" @click="$emit('settle', c, 'theirs')">Take theirs</button>
        </p>
      </div>
    </div>
    <p v-if="phase === 'signed out'" role="status" class="note">Your session has ended. Sign in, and it is saved.</p>
    <div v-if="dirty" class="flex gap-2">
      <button class="btn btn-amber flex-1" :disabled="busy || !!clashes?.length" title="Ctrl S" @click="$emit('save')">
        {{ busy ? 'Saving …' : (saveLabel ?? 'Save') }}
      </button>
      <button class="btn" :disabled="busy" @click="$emit('discard')">Discard</button>
    </div>
    <p v-if="canUndo || canRedo" class="flex gap-3 text-[12.5px]">
      <button
        class="min-h-[24px] underline disabled:text-ash disabled:no-underline"
        :disabled="!canUndo || busy"
        title="Ctrl Z"
        @click="$emit('undo')"
      >
        Undo
      </button>
      <button
        class="min-h-[24px] underline disabled:text-ash disabled:no-underline"
        :disabled="!canRedo || busy"
        title="Ctrl Y"
        @click="$emit('redo')"
      >
        Redo
      </button>
    </p>
  </div>
</template>
