<script setup lang="ts">
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject, useComputed } from '../../core/query'
import { useSheet } from '../../core/sheet'
import { usualRules } from '../../domain/rule/usual'
import ChoiceBar from '../../ui/ChoiceBar.vue'
import DoorTree from '../../ui/DoorTree.vue'
import { useRemoval } from '../../ui/removal'
import { usePreview } from '../../ui/usePreview'
import RuleSheet from './RuleSheet.vue'

const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const path = { path: { id: props.id } }
const edit = useSheet<Schemas['Interlock']>({
  kind: 'interlock',
  id: props.id,
  name: (x) => x.name,
  load: async (signal) => {
    if (props.id) return fetchObject('interlock', props.id, signal)
    return { rev: 0, value: (await usualRules(Number(route.query.door ?? 0))).interlock }
  },
  store: (value, rev) =>
    props.id
      ? ask(api.PUT('/api/interlocks/{id}', { params: path, body: { rev, value } }))
      : ask(api.POST('/api/interlocks', { body: value })),
  added: (v) => void (!props.id && router.replace(`/rules/interlocks/${v.value.id}`)),
})
edit.place((p) => p.startsWith('doorIds'))
const { draft, fields } = edit
const words = usePreview(
  () => draft.value,
  (body, signal) => ask(api.POST('/api/rules/interlock', { body, signal })),
)
const all = useComputed(
  'rules',
  () => [],
  (signal) => ask(api.GET('/api/rules', { signal })),
)
const now = () => all.data.value?.interlocks.find((x) => x.id === props.id)?.note
const remove = useRemoval(edit, {
  kind: 'interlock',
  id: props.id,
  follows: () => 'Once sent, its doors no longer look at each other. History can bring it back.',
  to: '/rules',
})
const wrongDoor = () => Object.entries(fields.value).find(([p]) => p.startsWith('doorIds'))?.[1]
</script>

<template>
  <RuleSheet
    :id="id"
    kind="interlock"
    of="Interlock"
    noun="interlock"
    under="Interlock"
    :words="draft && draft.doorIds.length > 1 ? (words?.words ?? '…') : 'Choose at least two doors of one controller.'"
    :back="{ name: 'All rules', path: '/rules' }"
    :sheet="edit as never"
    :remove="remove"
  >
    <template #actions
      ><RouterLink v-if="id && draft?.doorIds[0]" class="btn" :to="`/prove/${draft.doorIds[0]}`"
        >Try it at the bench</RouterLink
      ></template
    >
    <template v-if="draft">
      <p v-if="id && now()" class="card mb-3 p-3 text-[13.5px]" aria-label="Now">{{ now() }}</p>
      <div class="grid grid-cols-[minmax(0,1fr)_280px] gap-3 max-xl:grid-cols-1">
        <section class="card space-y-3 self-start p-3.5" aria-label="While another is not closed and locked">
          <h2>While another is not closed and locked</h2>
          <ChoiceBar
            v-model="draft.waits"
            label="A grant"
            :choices="[
              { value: true, name: 'a grant waits' },
              { value: false, name: 'a grant is refused' },
            ]"
          />
          <label class="flex items-center gap-2 text-[13.5px]"
            ><input v-model="draft.exits" type="checkbox" /> exit requests that release a lock are held back too</label
          >
          <p v-if="draft.exits" class="text-[13px] font-semibold text-wine">
            Whoever is between the doors cannot leave while the other is open. Free egress depends on fire release,
            which overrides this.
          </p>
          <label class="flex items-center gap-2 text-[13.5px]"
            ><input v-model="draft.off" type="checkbox" /> not in use</label
          >
        </section>
        <section class="card p-3.5" aria-label="Doors">
          <h2 class="mb-2">Doors</h2>
          <DoorTree v-model="draft.doorIds" label="Doors of the interlock" class="h-[430px]" />
          <p v-if="wrongDoor()" data-wrong class="mt-1 text-[12px] font-semibold text-wine">{{ wrongDoor() }}</p>
        </section>
      </div>
    </template>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Every door of it needs a contact: without one nobody can tell whether it is closed.</p>
        <p>Of two people at one instant the first goes. Fire release frees all of them.</p>
      </div>
    </template>
  </RuleSheet>
</template>
