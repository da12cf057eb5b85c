<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Kind } from '../../core/query'
import type { useSheet } from '../../core/sheet'
import BesideNav from '../../ui/BesideNav.vue'
import FormField from '../../ui/FormField.vue'
import HistoryCard from '../../ui/HistoryCard.vue'
import SentNow from '../../ui/SentNow.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import SheetSave from '../../ui/SheetSave.vue'
import StateBox from '../../ui/StateBox.vue'

/** The sheet of a rule: its name, what it does as a sentence, the way back, Save, and its history. */
defineProps<{
  id: number
  kind: Kind
  of: string
  noun: string
  under: string
  words?: string
  /** The sentence may take four lines. */
  long?: boolean
  /** What would not work as it is. */
  wrong?: string[]
  back: { name: string; path: string }
  sheet: ReturnType<typeof useSheet>
  remove: () => unknown
}>()
const named = (x: unknown) => x as { name: string; off?: boolean }
</script>

<template>
  <SheetFrame :title="sheet.draft.value ? named(sheet.draft.value).name || `New ${noun}` : noun">
    <template #title
      ><FormField v-if="sheet.draft.value && !sheet.missing.value" v-slot="f" :of="of" field="name" quiet
        ><input
          v-model="named(sheet.draft.value).name"
          v-bind="f.bind"
          class="title-field"
          :placeholder="`Name of the ${noun}`"
          aria-label="Name"
          :autofocus="!id" /></FormField
    ></template>
    <template #under
      >{{ under }}<template v-if="sheet.draft.value && named(sheet.draft.value).off">: not in use</template></template
    >
    <template #actions
      ><BesideNav v-if="id" :id="id" :kind="kind" /><RouterLink class="btn" :to="back.path">{{ back.name }}</RouterLink
      ><slot name="actions" /><button v-if="id && !sheet.missing.value" class="btn" @click="remove">
        Remove
      </button></template
    >
    <StateBox
      v-if="!sheet.draft.value || sheet.missing.value"
      :loading="sheet.phase.value === 'loading'"
      :error="sheet.query.error.value"
      :again="sheet.reload"
      :rows="8"
      :what="`This ${noun}`"
    />
    <template v-else>
      <!-- Room for its lines: the form below stays where it is while the sentence grows. -->
      <p
        v-if="words"
        class="mb-3 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed"
        :class="long ? 'min-h-[106px]' : 'min-h-14'"
        role="status"
      >
        {{ words }}
      </p>
      <slot />
    </template>
    <template #aside>
      <slot name="before" />
      <div v-if="wrong?.length" class="card p-3 text-[13px] font-semibold text-wine" role="status">
        <ul class="space-y-2">
          <li v-for="w in wrong" :key="w">{{ w }}</li>
        </ul>
      </div>
      <SheetSave
        :sheet="sheet"
        :of="of"
        :fresh="!id"
        :save-label="id ? 'Save' : `Add the ${noun}`"
        :discard="id ? sheet.discard : () => sheet.leave(back.path)"
      />
      <SentNow v-if="id && !sheet.dirty.value" />
      <slot name="aside" />
      <HistoryCard v-if="id" :id="id" folded />
    </template>
  </SheetFrame>
</template>
