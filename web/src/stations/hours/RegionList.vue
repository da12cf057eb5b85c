<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { keys } from '../../core/query'

/** The countries and regions whose public holidays are at hand. */
const code = defineModel<string>({ required: true })
const find = ref('')
const q = useDebounce(find, 120)
const query = useQuery({
  queryKey: computed(() => keys.regions(q.value)),
  queryFn: ({ signal }) => ask(api.GET('/api/regions', { params: { query: { q: q.value } }, signal })),
  placeholderData: keepPreviousData,
})
const regions = computed(() => query.data.value ?? [])
</script>

<template>
  <Combobox v-model="code" as="div" class="card">
    <div class="p-2.5">
      <ComboboxInput
        class="field"
        placeholder="Country or region"
        aria-label="Country or region"
        autocomplete="off"
        :display-value="() => find"
        @change="find = $event.target.value"
      />
    </div>
    <ComboboxOptions static class="max-h-[250px] min-h-[250px] overflow-auto" aria-label="Regions">
      <ComboboxOption v-for="r in regions" :key="r.code" v-slot="{ active }" :value="r.code">
        <div
          class="flex min-h-[24px] w-full cursor-pointer items-baseline justify-between gap-2 px-3 py-1 text-left text-[13px] leading-snug"
          :class="r.code === code ? 'bg-basalt-2 text-paper' : active ? 'bg-mode-card/60' : ''"
        >
          <span class="min-w-0">{{ r.name }}</span><span class="font-mono text-[11px] whitespace-nowrap opacity-80">{{
            r.code
          }}</span>
        </div>
      </ComboboxOption>
      <ComboboxOption v-if="!regions.length" value="" disabled>
        <p class="note px-3 pb-2">
          {{
            query.error.value
              ? query.error.value.message
              : query.isPending.value
                ? 'Looking …'
                : `No region has “${q}” in its name.`
          }}
        </p>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>
