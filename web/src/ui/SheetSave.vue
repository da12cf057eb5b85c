<script setup lang="ts">
import type { useSheet } from '../core/sheet'
import SaveBar from './SaveBar.vue'

/** The foot of a sheet: what is wrong, what clashes, Save and Discard. */
defineProps<{
  sheet: ReturnType<typeof useSheet>
  of: string
  saveLabel?: string
  fresh?: boolean
  save?: () => unknown
  discard?: () => unknown
}>()
</script>

<template>
  <SaveBar
    :of="of"
    :dirty="(sheet.dirty.value || !!fresh) && !sheet.missing.value && !!sheet.draft.value"
    :busy="sheet.busy.value"
    :problem="sheet.missing.value ? '' : sheet.problem.value"
    :phase="sheet.phase.value"
    :told="sheet.told.value"
    :clashes="sheet.clashes.value"
    :rest="sheet.missing.value ? [] : sheet.unplaced.value"
    :can-undo="sheet.canUndo.value"
    :can-redo="sheet.canRedo.value"
    :save-label="saveLabel"
    @save="save ? save() : sheet.save()"
    @discard="discard ? discard() : sheet.discard()"
    @undo="sheet.undo"
    @redo="sheet.redo"
    @settle="sheet.settle"
  />
</template>
