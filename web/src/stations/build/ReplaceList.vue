<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'
import StateBox from '../../ui/StateBox.vue'
import TakeIntoService from './TakeIntoService.vue'

/** The found controllers that may take the place of one that is in service. */
defineProps<{ id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const query = useComputed(
  'found',
  () => [],
  (signal) => ask(api.GET('/api/found', { signal })),
)
const successors = computed(() => query.data.value?.filter((f) => f.state === 'new' && !f.fault))
const replacing = ref<Schemas['Found']>()
</script>

<template>
  <section class="card mb-4" aria-label="Replace it by">
    <div class="card-head">
      <h2>Replace it by</h2>
      <button class="btn btn-quiet px-1 py-0" @click="emit('close')">Close</button>
    </div>
    <StateBox
      v-if="!successors"
      :loading="query.isPending.value"
      :error="query.error.value"
      :again="query.refetch"
      :rows="2"
    />
    <p v-else-if="!successors.length" class="p-3.5 text-ash">
      No controller without a key answers. Plug the new one in; it appears here by itself.
    </p>
    <div v-for="f in successors" :key="f.serial" class="row">
      <b class="w-24 font-mono">{{ f.serial }}</b><span class="flex-1 text-[13px] text-ash"
        >{{ f.model }} · {{ f.ports }} doors · holds {{ f.holds }}</span
      >
      <button class="btn btn-amber px-2.5 py-0.5" @click="replacing = f">Replace by this one</button>
    </div>
    <TakeIntoService
      v-if="replacing"
      :found="[replacing]"
      :replaces="{ id, name }"
      @close="() => ((replacing = undefined), emit('close'))"
    />
  </section>
</template>
