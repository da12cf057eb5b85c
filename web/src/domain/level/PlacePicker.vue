<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useSite } from '../../core/site'

/** Chooses a whole place: everything, a site, a floor or a door set; where asked for, also a door or one side of it. */
const props = defineProps<{ sets: Schemas['DoorSet'][]; doors?: boolean; label?: string }>()
const emit = defineEmits<{ chosen: [t: Schemas['Target']] }>()
const site = useSite()
const typed = ref('')
const most = 40
type Target = Schemas['Target']
type Place = { name: string; kind: string; target: Target }
const places = computed<Place[]>(() => [
  { name: 'everything', kind: '', target: { kind: 'everything' } },
  ...(site.overview?.sites ?? []).flatMap((s): Place[] => [
    { name: s.name, kind: 'site', target: { kind: 'site', id: s.id } },
    ...s.floors.map((f): Place => ({
      name: `${s.name}, ${f.name}`,
      kind: 'floor',
      target: { kind: 'floor', id: f.id },
    })),
  ]),
  ...props.sets.map((s): Place => ({ name: s.name, kind: 'door set', target: { kind: 'door set', id: s.id } })),
  ...(props.doors
    ? site.doors.map((d): Place => ({ name: d.name, kind: 'door', target: { kind: 'door', id: d.id } }))
    : []),
])
const found = computed(() =>
  places.value.filter((p) => p.name.toLowerCase().includes(typed.value.trim().toLowerCase())),
)
function choose(p: Place | null) {
  if (p) emit('chosen', p.target)
  typed.value = ''
}
</script>

<template>
  <Combobox :model-value="null" nullable as="div" class="relative w-64" @update:model-value="choose">
    <ComboboxInput
      class="field py-1"
      :aria-label="label ?? 'Add a whole place'"
      :placeholder="doors ? 'a door, a floor, a site …' : 'everything, a site, a floor, a door set'"
      autocomplete="off"
      :value="typed"
      @change="typed = $event.target.value"
    />
    <ComboboxOptions
      class="absolute z-30 mt-1 max-h-72 w-80 overflow-auto rounded-lg border border-seam bg-paper py-1 shadow-lg"
    >
      <ComboboxOption v-for="p in found.slice(0, most)" :key="p.name + p.kind" v-slot="{ active }" :value="p" as="li">
        <div
          class="flex min-h-[24px] cursor-pointer justify-between gap-4 px-3 py-1"
          :class="active ? 'bg-mode-card/60' : ''"
        >
          {{ p.name }}<span class="note">{{ p.kind }}</span>
        </div>
      </ComboboxOption>
      <ComboboxOption v-if="!found.length || found.length > most" :value="null" disabled as="li">
        <div class="note px-3 py-1.5">
          {{
            found.length
              ? `and ${found.length - most} more; type part of a name`
              : `No place has “${typed}” in its name.`
          }}
        </div>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>
