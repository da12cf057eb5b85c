<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { inClock } from '../../clock'
import { useComputed } from '../../core/query'
import PeekName from '../../ui/PeekName.vue'
import TraceList from '../../ui/TraceList.vue'

/** Why a cell is as it is: for a person the decision with its trace, for a level where it leads. */
const props = defineProps<{
  cell: { row: Schemas['MatrixRowLine']; door: Schemas['MatrixDoor']; is: string }
  from: string
  rows: string
}>()
const first = computed(() => props.cell.row.members[0]!)
const answer = useComputed(
  'why of a cell',
  () => [first.value.id, props.cell.door.id, props.from],
  (signal) =>
    ask(
      api.GET('/api/ask', {
        params: { query: { person: first.value.id, door: props.cell.door.id, at: props.from } },
        signal,
      }),
    ),
  () => props.rows === 'people',
)
const where = useComputed(
  'where of a cell',
  () => [first.value.id, props.rows],
  (signal) =>
    ask(
      api.POST('/api/where', {
        body: props.rows === 'levels' ? { level: first.value.id } : { person: first.value.id },
        signal,
      }),
    ),
  () => props.rows !== 'departments',
)
const leads = computed(() => where.data.value?.doors.find((d) => d.id === props.cell.door.id))
</script>

<template>
  <div class="card p-3 text-[13px]">
    <p class="text-[15px]">
      <PeekName :id="first.id" :kind="first.kind" :name="first.name" /><template v-if="cell.row.count > 1">
        and {{ cell.row.count - 1 }} alike</template
      >
      at <b>{{ cell.door.name }}</b>
    </p>
    <p class="mt-1" :class="'om'.includes(cell.is) ? 'font-semibold text-kelp' : 'text-ash'">
      {{
        {
          o: 'Comes in in this time.',
          m: 'Comes in in this time, but not alone: with others, by another proof, or once they are cleared.',
          c: 'Something leads there, but not in this time.',
          '-': 'Nothing that they hold leads there.',
        }[cell.is]
      }}
    </p>
    <p v-for="t in leads?.through ?? []" :key="`${t.levelId}${t.by}`">
      by <b>{{ t.level }}</b> during {{ t.schedule }}
      <span class="note">{{ [t.by, t.dates].filter(Boolean).join(', ') }}</span>
    </p>
    <p v-if="leads" class="note">{{ leads.now ? 'Now' : 'Next' }}: {{ inClock(leads.next) }}</p>
  </div>
  <template v-if="answer.data.value && rows === 'people'">
    <h2>{{ from ? 'At that moment' : 'Now' }}</h2>
    <p class="font-bold" :class="answer.data.value.granted ? 'text-kelp' : 'text-wine'">
      {{ inClock(answer.data.value.words) }}
    </p>
    <TraceList :lines="answer.data.value.trace" />
    <p v-if="answer.data.value.mend" class="note text-[12.5px]">{{ inClock(answer.data.value.mend) }}</p>
  </template>
</template>
