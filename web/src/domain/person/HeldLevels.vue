<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useNames } from '../../core/names'
import { useFieldErrors } from '../../core/sheet'
import DateRange from '../../ui/DateRange.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import PeekName from '../../ui/PeekName.vue'
import { many } from '../../words'

/** The access levels that a person has, each for some days or for good. */
const levels = defineModel<Schemas['Grant'][]>({ required: true })
const sheet = useFieldErrors()
sheet?.place((path) => /^levels\[\d+\]\.(from|until)$/.test(path))
const { nameOf } = useNames(() => levels.value.map((g) => g.levelId))
const wrong = (i: number, ...names: string[]) =>
  names.map((n) => sheet?.fields.value[`levels[${i}].${n}`]).find(Boolean)
const give = (id: number) => {
  if (id) levels.value.push({ levelId: id })
}
</script>

<template>
  <section class="card" aria-labelledby="held-levels">
    <div class="card-head">
      <h2 id="held-levels">Access levels</h2>
      <span class="note">{{ many(levels.length, 'level', 'levels') }}</span>
    </div>
    <p v-if="!levels.length" class="px-3.5 py-2.5 text-ash">None: this person cannot come in anywhere.</p>
    <div v-for="(g, i) in levels" :key="g.levelId" class="row flex-wrap py-1.5">
      <span class="min-w-0 flex-1"><PeekName :id="g.levelId" kind="level" :name="nameOf(g.levelId)" /></span>
      <DateRange
        v-model:from="g.from"
        v-model:until="g.until"
        :what="nameOf(g.levelId)"
        :problem="wrong(i, 'from', 'until')"
      />
      <span v-if="wrong(i, 'levelId')" class="text-[12px] font-semibold text-wine">{{ wrong(i, 'levelId') }}</span>
      <button
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Take away ${nameOf(g.levelId)}`"
        @click="levels.splice(i, 1)"
      >
        Take away
      </button>
    </div>
    <div class="row gap-2">
      <span class="note">Give</span>
      <ObjectPicker
        :model-value="0"
        kind="level"
        class="w-64"
        label="Give an access level"
        placeholder="Find an access level"
        :leave-out="levels.map((g) => g.levelId)"
        @chosen="give"
      />
      <RouterLink class="ml-auto text-[13px] underline" to="/people/levels/new">New level</RouterLink>
    </div>
  </section>
</template>
