<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '../../api/client'
import { useSite } from '../../core/site'
import type { FirstDoors, NewDoor } from './first'

/** A name and a place for each door, in one form, and which of its readers is in and which out. */
const props = defineProps<{ all: FirstDoors }>()
const site = useSite()
const { first, boxes } = props.all
const rows = computed(() => first.value.doors.filter((d) => boxes.value.some((b) => b.serial === d.serial)))
const box = (d: NewDoor) => boxes.value.find((b) => b.serial === d.serial)!
const floors = computed(() => [
  ...new Set([
    ...(site.overview?.sites.flatMap((s) => s.floors.map((f) => f.name)) ?? []),
    'Level 0',
    'Level 1',
    'Level −1',
  ]),
])
const terminal = (d: NewDoor, out: boolean) => `r${2 * d.port - (out !== d.swapped ? 0 : 1)}`
const problem = ref('')
async function beep(d: NewDoor, out: boolean) {
  try {
    await ask(
      api.POST('/api/found/{serial}/hand', {
        params: { path: { serial: d.serial } },
        body: { do: 'beep', at: terminal(d, out) },
      }),
    )
    problem.value = ''
  } catch (e) {
    problem.value = (e as Error).message
  }
}
/** A floor that is typed goes for the doors below that still have the one before. */
function floor(i: number, to: string) {
  const was = rows.value[i]!.floor
  for (const d of rows.value.slice(i)) {
    if (d.floor !== was) break
    d.floor = to
  }
}
</script>

<template>
  <section class="card" aria-label="Doors">
    <div class="card-head">
      <h2>Doors</h2>
      <span class="note">one to a port; empty rows are left out</span>
    </div>
    <p v-if="problem" role="alert" class="px-3.5 pt-2 font-semibold text-wine">{{ problem }}</p>
    <p v-if="!rows.length" class="p-3.5 text-ash">No controller is chosen yet; go back one step.</p>
    <div v-for="(d, i) in rows" :key="d.serial + d.port" class="row">
      <span class="w-32 shrink-0 truncate text-[13px] text-ash">{{ box(d).name }} · {{ d.port }}</span>
      <input
        v-model="d.name"
        class="field min-w-0 flex-[2] py-1"
        :placeholder="i ? '' : 'Front door'"
        :aria-label="`Name of door ${d.port} of ${box(d).name}`"
        :autofocus="!i"
        :disabled="d.id > 0"
      />
      <input
        :value="d.floor"
        class="field min-w-0 flex-1 py-1"
        list="floors"
        :aria-label="`Floor of door ${d.port} of ${box(d).name}`"
        tabindex="-1"
        :disabled="d.id > 0"
        @change="floor(i, ($event.target as HTMLInputElement).value)"
      />
      <span class="flex items-center gap-1 text-[12px]">
        <button
          type="button"
          class="btn px-1.5 py-0 text-[12px]"
          tabindex="-1"
          :title="`Beep the reader at ${terminal(d, false)}`"
          @click="beep(d, false)"
        >
          in {{ terminal(d, false).toUpperCase() }}
        </button>
        <label class="flex items-center gap-1"
          ><input
            v-model="d.out"
            type="checkbox"
            tabindex="-1"
            :aria-label="`Reader out at door ${d.port}`"
          />out</label
        >
        <button v-if="d.out" type="button" class="btn px-1.5 py-0 text-[12px]" tabindex="-1" @click="beep(d, true)">
          {{ terminal(d, true).toUpperCase() }}
        </button>
        <button
          type="button"
          class="btn btn-quiet px-1 py-0 text-[12px]"
          tabindex="-1"
          title="The other reader is the one in"
          @click="d.swapped = !d.swapped"
        >
          swap
        </button>
      </span>
    </div>
    <datalist id="floors"><option v-for="f in floors" :key="f" :value="f" /></datalist>
  </section>
</template>
