<script setup lang="ts">
import { computed, ref } from 'vue'
import { useNames } from '../../core/names'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'

/** The levels that a level contains: whoever has it has them too, with all that they contain. */
const props = defineProps<{ id: number; problem?: string }>()
const list = defineModel<number[] | undefined>({ required: true })
const ids = computed(() => list.value ?? [])
const { nameOf } = useNames(() => ids.value)
const adding = ref(false)
function add(id: number) {
  if (id && id !== props.id && !ids.value.includes(id)) list.value = [...ids.value, id]
  adding.value = false
}
const out = (id: number) => (list.value = ids.value.length > 1 ? ids.value.filter((x) => x !== id) : undefined)
</script>

<template>
  <section class="card mb-3" aria-label="Contains">
    <div class="row flex-wrap gap-x-3 py-1.5">
      <h2>Contains</h2>
      <span v-for="i in ids" :key="i" class="flex items-center gap-1"
        ><PeekName :id="i" kind="level" :name="nameOf(i)" /><button
          type="button"
          class="btn btn-quiet min-w-6 px-1 py-0 text-ash"
          :aria-label="`No longer contain ${nameOf(i)}`"
          @click="out(i)"
        >
          ×
        </button></span
      >
      <span v-if="!ids.length && !adding" class="note">no other level</span>
      <ObjectPicker
        v-if="adding"
        :model-value="0"
        kind="level"
        class="w-52"
        label="A level that it contains"
        placeholder="Find an access level"
        :leave-out="[id, ...ids]"
        @chosen="add"
      />
      <button v-else type="button" class="btn btn-quiet px-1 py-0" @click="adding = true">Another level …</button>
      <span v-if="problem" role="alert" class="w-full text-[12.5px] font-semibold text-wine">{{ problem }}</span>
    </div>
  </section>
</template>
