<script setup lang="ts">
import { autoUpdate, flip, offset, shift, size, useFloating } from '@floating-ui/vue'
import { onClickOutside, useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, useId } from 'vue'
import { RouterLink } from 'vue-router'
import { placePath } from '../app/places'
import { useNames } from '../core/names'
import { useComputed } from '../core/query'
import { peek, type PeekLine } from './peek'

/** A name that tells in place what it means, and what stands in it does so too. */
const props = defineProps<{ kind: string; id: number; name: string }>()
const open = ref(false)
const button = ref<HTMLElement>()
const panel = ref<HTMLElement>()
const panelId = useId()
const most = 12

const query = useComputed(
  'peek',
  () => [props.kind, props.id],
  (signal) => peek(props.kind, props.id, signal),
  open,
)
const lines = computed<PeekLine[]>(() => query.data.value ?? [])
const { nameOf } = useNames(() =>
  lines.value.slice(0, most + 2).flatMap((l) => (l.things ?? []).filter((t) => !t.name).map((t) => t.id)),
)

const { floatingStyles } = useFloating(button, panel, {
  placement: 'bottom-start',
  strategy: 'fixed',
  whileElementsMounted: autoUpdate,
  middleware: [
    offset(4),
    flip({ padding: 8 }),
    shift({ padding: 8 }),
    size({
      padding: 8,
      apply: ({ availableHeight, elements }) =>
        void (elements.floating.style.maxHeight = `${Math.max(120, availableHeight)}px`),
    }),
  ],
})
async function show() {
  open.value = !open.value
  await nextTick()
  panel.value?.focus()
}
function close(back = true) {
  open.value = false
  if (back) button.value?.focus()
}
// A peek in this peek lies beside it in the document, and after it: a click there leaves this one open.
onClickOutside(
  panel,
  (e) => {
    const other = (e.target as HTMLElement).closest?.('[data-peek]')
    if (
      open.value &&
      !(other && panel.value && panel.value.compareDocumentPosition(other) & Node.DOCUMENT_POSITION_FOLLOWING)
    )
      close(false)
  },
  { ignore: [button] },
)
useEventListener(panel, 'keydown', (e: KeyboardEvent) => {
  if (e.key !== 'Escape') return
  e.stopPropagation()
  e.preventDefault()
  close()
})
function leave(e: FocusEvent) {
  const to = e.relatedTarget as HTMLElement | null
  if (to && !panel.value?.contains(to) && !to.closest('[data-peek]') && to !== button.value) open.value = false
}
</script>

<template>
  <button
    ref="button"
    type="button"
    class="min-h-[24px] max-w-full min-w-[24px] truncate text-left underline decoration-dotted underline-offset-3"
    :title="`What ${name} means`"
    :aria-expanded="open"
    :aria-controls="open ? panelId : undefined"
    @click.stop="show"
  >
    {{ name }}
  </button>
  <Teleport v-if="open" to="body">
    <div
      :id="panelId"
      ref="panel"
      data-peek
      role="dialog"
      tabindex="-1"
      :aria-label="`${kind} ${name}`"
      class="z-40 w-64 overflow-auto rounded-lg border border-seam bg-paper p-3 text-[13px] text-ink shadow-lg"
      :style="floatingStyles"
      @focusout="leave"
    >
      <p class="mb-1 font-bold">
        {{ name }} <span class="note font-normal">{{ kind }}</span>
      </p>
      <p v-if="query.isPending.value" class="skeleton my-1 h-3.5 w-40" role="status" aria-label="Loading" />
      <p v-else-if="query.error.value" class="text-wine">{{ query.error.value.message }}</p>
      <p
        v-for="(l, i) in lines.slice(0, most + 1)"
        :key="i"
        class="py-px break-words"
        :class="l.mono ? 'font-mono text-[12px]' : ''"
      >
        {{ l.words
        }}<template v-for="(t, k) in l.things ?? []" :key="k"
          ><span v-if="k" class="text-ash"> · </span
          ><PeekName v-if="t.id" :id="t.id" :kind="t.kind" :name="t.name ?? nameOf(t.id)" /><template v-else>{{
            t.name
          }}</template></template
        >
      </p>
      <p v-if="lines.length > most + 1" class="note">and {{ lines.length - most - 1 }} more</p>
      <RouterLink
        class="mt-1 inline-block min-h-[24px] underline"
        :to="placePath(kind, id, '/hours')"
        @click="open = false"
        >Open it</RouterLink
      >
    </div>
  </Teleport>
</template>
