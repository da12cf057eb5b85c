<script setup lang="ts" generic="K extends NamedKind">
import { autoUpdate, flip, offset, size, useFloating } from '@floating-ui/vue'
import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxLabel,
  ComboboxOption,
  ComboboxOptions,
} from '@headlessui/vue'
import { ChevronDown } from '@lucide/vue'
import { useDebounce } from '@vueuse/core'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useNames } from '../core/names'
import { useList, type NamedKind } from '../core/query'
import { many } from '../words'

/** Chooses an object of a kind by its name, looked for in the server. What it cannot be is left out. */
const props = defineProps<{
  kind: K
  id?: string
  label?: string
  placeholder?: string
  /** What can be chosen besides: nothing, say, with 0. */
  besides?: { id: number; name: string }[]
  leaveOut?: number[]
  where?: string[]
  invalid?: boolean
  describedby?: string
  disabled?: boolean
  /** What a thing is called here, where its name alone does not say it: a floor with its site. */
  words?: (id: number, name: string) => string
  /** Make a new one of the typed name, in place. */
  make?: (name: string) => Promise<number | undefined>
}>()
const chosen = defineModel<number>({ required: true })
const emit = defineEmits<{ chosen: [id: number, name: string] }>()

const typed = ref('')
const open = ref(false)
const trouble = ref('') // what stood against making a new one
const q = useDebounce(typed, 120)
const list = useList(
  () => props.kind,
  () => ({
    limit: 50,
    ...(q.value.trim() ? { q: q.value.trim() } : {}),
    ...(props.where ? { where: props.where } : {}),
  }),
  open,
)
const besides = (id: number) => props.besides?.find((b) => b.id === id)
const { nameOf } = useNames(() => (besides(chosen.value) || !chosen.value ? [] : [chosen.value]))
const shown = computed(
  () => besides(chosen.value)?.name ?? (chosen.value ? called(chosen.value, nameOf(chosen.value)) : ''),
)
const called = (id: number, name: string) => props.words?.(id, name) ?? name
const found = computed(() => {
  const text = typed.value.trim().toLowerCase()
  // Until the answer to what stands in the field has come, only what has it in its name is offered of the one before.
  const late = q.value.trim() !== typed.value.trim() || list.isPlaceholderData.value
  return (list.data.value?.pages ?? [])
    .flatMap((p) =>
      p.items.map((i) => ({
        id: i.value.id,
        name: i.value.name,
        hint: 'number' in i.value && i.value.number ? `no. ${i.value.number}` : '',
      })),
    )
    .filter((o) => !props.leaveOut?.includes(o.id) && (!late || o.name.toLowerCase().includes(text)))
})
const looking = computed(() => q.value.trim() !== typed.value.trim() || list.isFetching.value)
const extra = computed(() =>
  (props.besides ?? []).filter((b) => b.name.toLowerCase().includes(typed.value.trim().toLowerCase())),
)
const total = computed(() => list.data.value?.pages[0]?.total ?? 0)
const more = computed(() => total.value - (list.data.value?.pages ?? []).reduce((n, p) => n + p.items.length, 0))
/** The new one that can be made: the same object while the text is, or the list would be drawn without end. */
const fresh = computed(() => ({ id: -1, name: typed.value.trim() }))
const canMake = computed(
  () =>
    props.make &&
    typed.value.trim() &&
    !found.value.some((o) => o.name.toLowerCase() === typed.value.trim().toLowerCase()),
)

async function choose(o: { id: number; name: string } | null) {
  if (!o) return
  let id: number | undefined = o.id
  trouble.value = ''
  try {
    if (o.id === fresh.value.id) id = await props.make?.(o.name)
  } catch (e) {
    trouble.value = (e as Error).message
    return
  }
  typed.value = ''
  if (id === undefined) return
  chosen.value = id
  emit('chosen', id, o.name)
  // The field is made anew with what was chosen; whoever chose by keys goes on from it.
  await nextTick()
  await nextTick()
  if (!document.activeElement || document.activeElement === document.body) anchor.value?.querySelector('input')?.focus()
}

/** What is said in the list and cannot be chosen. It must not be what is selected, which is nothing. */
const notice = { id: -2, name: '' }
const anchor = ref<HTMLElement>()
const floating = ref<HTMLElement>()
// Over everything, but within the dialog where there is one: what is outside of that closes it.
const top = ref<string | HTMLElement>('body')
onMounted(() => (top.value = anchor.value?.closest<HTMLElement>('[role=dialog]') ?? 'body'))
const { floatingStyles } = useFloating(anchor, floating, {
  placement: 'bottom-start',
  strategy: 'fixed',
  whileElementsMounted: autoUpdate,
  middleware: [
    offset(4),
    flip({ padding: 8 }),
    size({
      padding: 8,
      apply: ({ availableHeight, rects, elements }) => {
        elements.floating.style.maxHeight = `${Math.min(300, availableHeight)}px`
        elements.floating.style.minWidth = `${Math.max(200, rects.reference.width)}px`
      },
    }),
  ],
})
</script>

<template>
  <Combobox
    :key="chosen"
    :model-value="null"
    nullable
    as="div"
    class="relative"
    :disabled="disabled"
    @update:model-value="choose"
  >
    <!-- Without a label of its own the field would be called by its button. -->
    <ComboboxLabel v-if="label" class="hidden">{{ label }}</ComboboxLabel>
    <div ref="anchor" class="relative">
      <ComboboxInput
        :id="id"
        class="field pr-8"
        :aria-label="label"
        :aria-invalid="invalid || undefined"
        :aria-describedby="describedby"
        :placeholder="placeholder ?? 'Type to find'"
        :display-value="() => shown"
        autocomplete="off"
        @change="typed = $event.target.value"
        @focus="open = true"
        @blur="typed = ''"
      />
      <ComboboxButton
        class="absolute inset-y-0 right-0 grid w-8 place-items-center text-ash"
        :aria-label="`Show ${label ?? 'choices'}`"
        tabindex="-1"
        @click="open = true"
      >
        <ChevronDown class="size-4" />
      </ComboboxButton>
    </div>
    <p v-if="trouble" role="alert" class="mt-0.5 text-[12px] font-semibold text-wine">{{ trouble }}</p>
    <Teleport :to="top">
      <ComboboxOptions
        ref="floating"
        class="z-50 w-max max-w-[420px] overflow-auto rounded-lg border border-seam bg-paper py-1 text-ink shadow-lg"
        :style="floatingStyles"
      >
        <ComboboxOption v-for="o in extra" :key="`b${o.id}`" v-slot="{ active }" :value="o" as="li">
          <div class="cursor-pointer px-3 py-1.5 text-ash" :class="active ? 'bg-mode-card/60' : ''">{{ o.name }}</div>
        </ComboboxOption>
        <ComboboxOption v-for="o in found" :key="o.id" v-slot="{ active }" :value="o" as="li">
          <div
            class="flex min-h-[24px] cursor-pointer items-baseline justify-between gap-4 px-3 py-1.5"
            :class="active ? 'bg-mode-card/60' : ''"
          >
            <span
              >{{ called(o.id, o.name) }} <span v-if="o.hint" class="note">{{ o.hint }}</span></span
            >
            <span v-if="o.id === chosen" class="note" aria-hidden="true">✓</span>
          </div>
        </ComboboxOption>
        <ComboboxOption v-if="canMake" v-slot="{ active }" :value="fresh" as="li">
          <div
            class="cursor-pointer border-t border-seam px-3 py-1.5 font-semibold"
            :class="active ? 'bg-mode-card/60' : ''"
          >
            New: “{{ typed.trim() }}”
          </div>
        </ComboboxOption>
        <ComboboxOption v-if="!found.length && !extra.length && !canMake" :value="notice" disabled as="li">
          <div class="note px-3 py-2">
            {{
              looking
                ? 'Looking …'
                : list.error.value
                  ? list.error.value.message
                  : typed
                    ? `Nothing has “${typed}” in its name.`
                    : 'There is none yet.'
            }}
          </div>
        </ComboboxOption>
        <ComboboxOption v-if="more > 0" :value="notice" disabled as="li">
          <div class="note border-t border-seam px-3 py-1.5">
            and {{ many(more, 'more', 'more') }}; type part of a name
          </div>
        </ComboboxOption>
      </ComboboxOptions>
    </Teleport>
  </Combobox>
</template>
