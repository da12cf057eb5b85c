<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../../api/client'
import { useListAddress } from '../../core/address'
import { useNames } from '../../core/names'
import { client, fetchObject, keys, useComputed, useList, type Objects } from '../../core/query'
import { useSite } from '../../core/site'
import type { Column } from '../../ui/DataTable.vue'
import KindTable from '../../ui/KindTable.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import SheetFrame from '../../ui/SheetFrame.vue'
import { sure } from '../../ui/sure'
import { dateOf, many } from '../../words'
import PeopleTabs from './PeopleTabs.vue'

type Person = Objects['person']
type Row = { value: Person; rev: number; used: Record<string, number> }
const { params, condition } = useListAddress()
const level = condition('level')
const state = condition('state')
const member = condition('member')
const levelId = computed({ get: () => Number(level.value || 0), set: (v) => (level.value = v ? String(v) : '') })
const memberOf = computed({ get: () => Number(member.value || 0), set: (v) => (member.value = v ? String(v) : '') })
const states = ['suspended', 'past', 'coming', 'no card', 'lost card', 'no level', 'temporary']
const selected = ref<number[]>([])
const problem = ref('')
const busy = ref(false)
const site = useSite()

const columns: Column<Row>[] = [
  { id: 'name', title: 'Name', width: '150px', sort: 'name' },
  { id: 'department', title: 'Department', width: '108px', from: 560, sort: 'department' },
  { id: 'credentials', title: 'Cards', width: '84px', from: 640, sort: 'credentials' },
  { id: 'levels', title: 'Access levels', sort: 'levels' },
  { id: 'state', title: 'State', width: '82px' },
  { id: 'seen', title: 'Last seen', width: '84px', from: 640, sort: 'seen' },
]
// The names of departments and levels are asked for once for all rows that were read.
const list = useList('person', params)
const rows = computed(() => (list.data.value?.pages ?? []).flatMap((p) => p.items.map((i) => i.value)))
const { nameOf } = useNames(() =>
  rows.value.flatMap((p) => [...p.departmentIds, ...p.levels.map((g) => g.levelId ?? 0)]),
)
const lastSeen = useComputed(
  'seen',
  () => [rows.value.slice(-400).map((p) => p.id)],
  (signal) =>
    ask(api.GET('/api/seen', { params: { query: { ids: rows.value.slice(-400).map((p) => p.id) } }, signal })),
  () => rows.value.length > 0,
)
const seen = computed(() => new Map((lastSeen.data.value ?? []).map((x) => [x.person, x])))
const today = computed(() => site.today())
/** How somebody stands, in a word; empty where there is nothing to say. */
function stands(p: Person): string {
  if (p.suspended) return 'suspended'
  if (p.until && p.until.slice(0, 10) < today.value) return 'past'
  if (p.from && p.from.slice(0, 10) > today.value) return 'to come'
  const bad = p.credentials.find((c) => c.status !== 'active')?.status
  if (p.credentials.length && p.credentials.every((c) => c.status !== 'active')) return bad ?? ''
  if (bad) return `one ${bad}`
  return p.credentials.length ? '' : 'no card'
}
const held = (p: Person) => {
  const places = p.levels.filter((g) => !g.levelId).length
  return [
    ...p.levels.filter((g) => g.levelId).map((g) => nameOf(g.levelId!)),
    ...(places ? [many(places, 'place', 'places')] : []),
  ].join(', ')
}

/** Does the same to everybody who is chosen, one after the other; what was done stays done where one fails. */
async function each(what: string, change: (p: Person) => boolean) {
  if (busy.value) return
  busy.value = true
  problem.value = ''
  const left = [...selected.value]
  try {
    while (left.length) {
      const { rev, value } = await fetchObject('person', left[0]!)
      if (change(value))
        client.setQueryData(
          keys.object('person', value.id),
          await ask(api.PUT('/api/people/{id}', { params: { path: { id: value.id } }, body: { rev, value } })),
        )
      left.shift()
    }
  } catch (e) {
    problem.value = `${what} stopped before the last ${many(left.length, 'person', 'people')}: ${(e as Error).message}`
  } finally {
    selected.value = left
    busy.value = false
  }
}
const suspend = (on: boolean) =>
  each(on ? 'Suspending' : 'Admitting', (p) => p.suspended !== on && ((p.suspended = on), true))
const give = (id: number) =>
  void (
    id && each('Giving the level', (p) => !p.levels.some((g) => g.levelId === id) && !!p.levels.push({ levelId: id }))
  )
async function remove() {
  if (
    !(await sure(
      `Remove ${many(selected.value.length, 'person', 'people')}?`,
      'Their cards open nothing after the next send. History can bring them back.',
      'Remove them',
    ))
  )
    return
  busy.value = true
  try {
    while (selected.value.length) {
      const { rev, value } = await fetchObject('person', selected.value[0]!)
      await ask(api.DELETE('/api/people/{id}', { params: { path: { id: value.id }, query: { rev } } }))
      selected.value = selected.value.slice(1)
    }
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetFrame fill title="People" under="Who may come in, with what, and where">
    <template #actions
      ><RouterLink
        v-if="selected.length === 2"
        class="btn"
        :to="`/people/compare?kind=person&a=${selected[0]}&b=${selected[1]}`"
        >Compare the two</RouterLink
      ><RouterLink class="btn btn-amber" to="/people/new">New person</RouterLink></template
    >
    <PeopleTabs />
    <p v-if="problem" role="alert" class="mb-2 font-semibold text-wine">{{ problem }}</p>
    <KindTable
      v-model:selected="selected"
      kind="person"
      label="People"
      :columns="columns"
      chooses
      placeholder="Name, number, department or card"
      none="Nobody yet. Add a person, then let them present a card."
    >
      <template #filters>
        <ObjectPicker
          v-model="levelId"
          kind="level"
          class="w-52"
          label="Only who has an access level"
          :besides="[{ id: 0, name: 'any access level' }]"
        />
        <ObjectPicker
          v-model="memberOf"
          kind="department"
          class="w-44"
          label="Only who is in a department"
          :besides="[{ id: 0, name: 'any department' }]"
        />
        <select v-model="state" class="field w-36!" aria-label="How they stand">
          <option value="">everybody</option>
          <option v-for="s in states" :key="s">{{ s }}</option>
        </select>
      </template>
      <template #credentials="{ row }"
        ><span class="font-mono text-[12.5px]">{{
          row.value.credentials.map((c) => c.value).join(', ') || 'no card'
        }}</span></template
      >
      <template #department="{ row }"
        ><span class="text-[13px]">{{ row.value.departmentIds.map(nameOf).join(', ') }}</span></template
      >
      <template #levels="{ row }"
        ><span class="text-[13px]"
          >{{ held(row.value)
          }}<span v-if="!row.value.levels.length" class="note">{{
            row.value.departmentIds.length ? 'by department' : 'nothing: cannot come in'
          }}</span></span
        ></template
      >
      <template #state="{ row }"
        ><span
          v-if="stands(row.value)"
          class="pill"
          :class="row.value.suspended ? 'bg-wine text-paper' : 'border border-wine text-wine'"
          >{{ stands(row.value) }}</span
        ></template
      >
      <template #seen="{ row }"
        ><span
          class="note text-[12.5px]"
          :title="seen.get(row.value.id) ? `at ${seen.get(row.value.id)!.doorName}` : 'never let in'"
          >{{ seen.get(row.value.id) ? dateOf(seen.get(row.value.id)!.at, seen.get(row.value.id)!.zone) : '' }}</span
        ></template
      >
      <template #bulk>
        <button class="btn px-2 py-0.5" :disabled="busy" @click="suspend(true)">Suspend</button>
        <button class="btn px-2 py-0.5" :disabled="busy" @click="suspend(false)">Admit</button>
        <ObjectPicker
          :model-value="0"
          kind="level"
          class="w-48"
          label="Give an access level to those chosen"
          placeholder="Give a level"
          @chosen="give"
        />
        <button class="btn btn-wine px-2 py-0.5" :disabled="busy" @click="remove">Remove …</button>
      </template>
    </KindTable>
    <template #aside>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>A person</b> shows a card or another credential, and may come in where their access levels say.</p>
        <p><b>An access level</b> says which places open during which schedule.</p>
      </div>
    </template>
  </SheetFrame>
</template>
