<script setup lang="ts">
import { api, ask, type Schemas } from '../../api/client'
import { useAll } from '../../core/query'
import DoorTree from '../../ui/DoorTree.vue'
import { askFor } from '../../ui/sure'
import { many } from '../../words'

/** Where a dated change holds: doors, floors, sites and sets of doors, and how many doors that is now. */
const draft = defineModel<Schemas['DatedChange']>({ required: true })
defineProps<{ preview?: { count: number; doors: { name: string }[] } }>()
const emit = defineEmits<{ failed: [words: string] }>()
const sets = useAll('door set')

async function keepSet() {
  const name = await askFor('Keep these doors as a set', 'Name of the door set', 'Keep it')
  if (!name) return
  try {
    const set = await ask(api.POST('/api/door-sets', { body: { id: 0, name, doorIds: draft.value.doorIds } }))
    await sets.refetch()
    draft.value.setIds = [...draft.value.setIds, set.value.id]
    draft.value.doorIds = []
  } catch (e) {
    emit('failed', (e as Error).message)
  }
}
</script>

<template>
  <section class="card flex max-h-[400px] flex-col self-start">
    <div class="card-head py-1.5">
      <h2>Where</h2>
      <span class="note">{{ many(preview?.count ?? 0, 'door', 'doors') }}</span>
    </div>
    <p v-if="preview?.doors.length" class="px-3 pt-1.5 text-[12.5px] font-semibold">
      {{
        preview.doors
          .slice(0, 5)
          .map((d) => d.name)
          .join(', ')
      }}{{ preview.count > 5 ? ' …' : '' }}
    </p>
    <DoorTree
      v-model="draft.doorIds"
      v-model:floors="draft.floorIds"
      v-model:sites="draft.siteIds"
      v-model:set-ids="draft.setIds"
      label="Where it holds"
      places
      :sets="(sets.data.value ?? []).map((s) => s.value)"
      class="h-[232px]"
    />
    <button
      v-if="draft.doorIds.length > 1"
      type="button"
      class="btn btn-quiet border-t border-seam py-1 text-[13px]"
      @click="keepSet"
    >
      Keep these {{ draft.doorIds.length }} as a door set
    </button>
  </section>
</template>
