<script setup lang="ts">
import { api, ask, type Schemas } from '../../api/client'
import { useFieldErrors } from '../../core/sheet'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { usualRules } from './usual'

/** The combinations of a rule: how many people, and of which groups. Any of them opens. */
const list = defineModel<Schemas['Combination'][]>({ required: true })
defineProps<{ ways: Schemas['CombinationMeaning'][] }>()
const errors = useFieldErrors()
errors?.place((path) => path.startsWith('combinations'))
const wrong = (i: number) =>
  Object.entries(errors?.fields.value ?? {}).find(([path]) => path.startsWith(`combinations[${i}]`))?.[1]
const make = async (name: string) =>
  (await ask(api.POST('/api/groups', { body: { ...(await usualRules()).group, name } }))).value.id
const many = (n: number) => (n < 0 ? 'more sets of people than can be counted' : n === 1 ? 'one way' : `${n} ways`)
</script>

<template>
  <div class="space-y-2">
    <fieldset
      v-for="(c, i) in list"
      :key="i"
      class="rounded border border-seam p-3"
      :aria-label="`Combination ${i + 1}`"
    >
      <div class="flex flex-wrap items-center gap-x-3 gap-y-2">
        <label class="flex items-center gap-2 text-[13.5px]"
          >People in all
          <select v-model.number="c.total" class="field w-16! py-0.5">
            <option v-for="n in [2, 3, 4, 5]" :key="n" :value="n">{{ n }}</option>
          </select></label
        >
        <label class="flex items-center gap-2 text-[13.5px]"
          ><input v-model="c.listed" type="checkbox" /> in this order</label
        >
        <label class="flex items-center gap-2 text-[13.5px]"
          ><input v-model="c.confirmed" type="checkbox" /> an operator confirms</label
        >
        <button
          v-if="list.length > 1"
          type="button"
          class="btn btn-quiet ml-auto px-1"
          :aria-label="`Take away: combination ${i + 1}`"
          @click="list.splice(i, 1)"
        >
          Take away
        </button>
      </div>
      <div v-for="(p, k) in c.parts" :key="k" class="mt-2 flex flex-wrap items-center gap-2 text-[13.5px]">
        <select v-model.number="p.count" class="field w-16! py-0.5" :aria-label="`How many of part ${k + 1}`">
          <option v-for="n in c.total" :key="n" :value="n">{{ n }}</option>
        </select>
        from
        <ObjectPicker
          v-model="p.groupId"
          kind="group"
          class="w-56"
          :label="`Group of part ${k + 1} of combination ${i + 1}`"
          placeholder="Find or name a group"
          :make="make"
        />
        <button
          type="button"
          class="btn btn-quiet px-1"
          :aria-label="`Take part ${k + 1} away`"
          @click="c.parts.splice(k, 1)"
        >
          ×
        </button>
      </div>
      <button type="button" class="btn mt-2 px-2.5 py-1" @click="c.parts.push({ groupId: 0, count: 1 })">
        {{ c.parts.length ? 'Another part' : 'Some of a group …' }}
      </button>
      <p v-if="wrong(i)" data-wrong class="mt-1.5 text-[12px] font-semibold text-wine">{{ wrong(i) }}</p>
      <p v-if="ways[i]" class="note mt-1.5 text-[12.5px]" :class="ways[i].possible ? '' : 'font-semibold text-wine'">
        <template v-if="ways[i].possible"
          >{{ many(ways[i].count)
          }}<template v-if="ways[i].examples.length"
            >: {{ ways[i].examples.join('; ') }}{{ ways[i].count > ways[i].examples.length ? ' …' : '' }}</template
          ></template
        ><template v-else>Never opens as it stands: too few of these people have a card and a level here.</template>
      </p>
    </fieldset>
    <p v-if="errors?.fields.value.combinations" data-wrong class="text-[12px] font-semibold text-wine">
      {{ errors.fields.value.combinations }}
    </p>
    <button type="button" class="btn px-2.5 py-1" @click="list.push({ total: 2, parts: [{ groupId: 0, count: 1 }] })">
      {{ list.length ? 'Or another combination' : 'Say who comes together' }}
    </button>
  </div>
</template>
