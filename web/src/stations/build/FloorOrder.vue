<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '../../api/client'
import { fetchObject } from '../../core/query'
import { many } from '../../words'

/** Floors, the highest first, and the doors of each in their order: moved by dragging, or by Alt and the arrows. */
type Floor = Schemas['FloorPlace']
const props = defineProps<{ floors: Floor[] }>()
const emit = defineEmits<{ problem: [words: string] }>()
const list = computed(() => [...props.floors].sort((a, b) => b.level - a.level))
const open = ref<number>()
const box = ref<HTMLElement>()
const dragged = ref<{ kind: 'floor' | 'door'; id: number }>()
const busy = ref(false)

async function attempt(work: () => Promise<unknown>, focus: string) {
  if (busy.value) return
  busy.value = true
  emit('problem', '')
  try {
    await work()
    await nextTick()
    setTimeout(() => box.value?.querySelector<HTMLElement>(`[data-order="${focus}"]`)?.focus(), 250)
  } catch (e) {
    emit('problem', (e as Error).message)
  } finally {
    busy.value = false
  }
}
/** Puts a floor at a place of the list: levels are counted anew from the lowest that there is. */
const moveFloor = (id: number, to: number) =>
  attempt(async () => {
    const order = list.value.map((f) => f.id).filter((x) => x !== id)
    order.splice(Math.max(0, Math.min(to, order.length)), 0, id)
    const lowest = Math.min(...list.value.map((f) => f.level))
    for (const [i, f] of [...order].reverse().entries()) {
      const v = await fetchObject('floor', f)
      if (v.value.level !== lowest + i)
        await ask(
          api.PUT('/api/floors/{id}', {
            params: { path: { id: f } },
            body: { rev: v.rev, value: { ...v.value, level: lowest + i } },
          }),
        )
    }
  }, `floor ${id}`)
const moveDoor = (floor: Floor, id: number, to: number) =>
  attempt(async () => {
    const order = floor.doors.map((d) => d.id).filter((x) => x !== id)
    order.splice(Math.max(0, Math.min(to, order.length)), 0, id)
    const doors = []
    for (const [i, d] of order.entries()) {
      const v = await fetchObject('door', d)
      if (v.value.order !== i + 1) doors.push({ rev: v.rev, value: { ...v.value, order: i + 1 } })
    }
    await ask(api.PUT('/api/doors-together', { body: { doors } }))
  }, `door ${id}`)
const by = (e: KeyboardEvent) => (e.altKey ? ({ ArrowUp: -1, ArrowDown: 1 }[e.key] ?? 0) : 0)
function key(e: KeyboardEvent, i: number, move: (to: number) => unknown) {
  const step = by(e)
  if (!step) return
  e.preventDefault()
  void move(i + step)
}
const drop = (kind: 'floor' | 'door', move: (id: number) => unknown) => {
  const d = dragged.value
  dragged.value = undefined
  if (d?.kind === kind) void move(d.id)
}
</script>

<template>
  <ul ref="box" aria-label="Floors in their order">
    <li v-for="(f, i) in list" :key="f.id">
      <div class="row py-1.5">
        <button
          class="btn btn-quiet flex-1 justify-start px-0 py-0 text-left text-ink"
          draggable="true"
          :aria-expanded="open === f.id"
          :data-order="`floor ${f.id}`"
          title="Alt and the arrows move it"
          @dragstart="dragged = { kind: 'floor', id: f.id }"
          @dragover.prevent
          @drop.prevent="drop('floor', (id) => moveFloor(id, i))"
          @click="open = open === f.id ? undefined : f.id"
          @keydown="key($event, i, (to) => moveFloor(f.id, to))"
        >
          {{ f.name }}</button><span class="note ml-auto">{{ many(f.doors.length, 'door', 'doors') }}</span>
        <button
          class="btn px-1.5 py-0"
          :disabled="!i || busy"
          :aria-label="`${f.name} up`"
          @click="moveFloor(f.id, i - 1)"
        >
          ↑
        </button>
        <button
          class="btn px-1.5 py-0"
          :disabled="i === list.length - 1 || busy"
          :aria-label="`${f.name} down`"
          @click="moveFloor(f.id, i + 1)"
        >
          ↓
        </button>
      </div>
      <ul v-if="open === f.id" class="border-t border-seam bg-lime" :aria-label="`Doors of ${f.name}`">
        <li v-for="(d, k) in f.doors" :key="d.id" class="row py-1 pl-8 text-[13px]">
          <RouterLink
            class="flex-1 hover:underline"
            draggable="true"
            :to="`/build/doors/${d.id}`"
            :data-order="`door ${d.id}`"
            @dragstart="dragged = { kind: 'door', id: d.id }"
            @dragover.prevent
            @drop.prevent="drop('door', (id) => moveDoor(f, id, k))"
            @keydown="key($event, k, (to) => moveDoor(f, d.id, to))"
            >{{ d.name }}</RouterLink
          >
          <span class="ml-auto flex gap-1"
            ><button
              class="btn px-1.5 py-0"
              :disabled="!k || busy"
              :aria-label="`${d.name} up`"
              @click="moveDoor(f, d.id, k - 1)"
            >
              ↑</button
            ><button
              class="btn px-1.5 py-0"
              :disabled="k === f.doors.length - 1 || busy"
              :aria-label="`${d.name} down`"
              @click="moveDoor(f, d.id, k + 1)"
            >
              ↓
            </button></span
          >
        </li>
        <li v-if="!f.doors.length" class="row note py-1 pl-8">no door yet</li>
      </ul>
    </li>
  </ul>
</template>
