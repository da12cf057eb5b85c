<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask } from '../../api/client'
import { fetchObject } from '../../core/query'
import { useSite } from '../../core/site'
import TerminalBeside from '../../domain/controller/TerminalBeside.vue'
import TerminalBoard from '../../domain/controller/TerminalBoard.vue'
import { useTerminals, type Terminal } from '../../domain/controller/terminals'
import { useAttempt } from '../../ui/attempt'
import SheetFrame from '../../ui/SheetFrame.vue'
import StateBox from '../../ui/StateBox.vue'
import StrongText from '../../ui/StrongText.vue'
import ObjectPicker from '../../ui/ObjectPicker.vue'
import { sure } from '../../ui/sure'
import BuildTabs from './BuildTabs.vue'

/** What is wired where: a controller and its expanders, terminal by terminal, and what each says now. */
const site = useSite()
const route = useRoute()
const router = useRouter()
const { attempt, busy, problem } = useAttempt()

const id = computed(() => Number(route.query.controller) || site.units[0]?.id || 0)
const which = computed({ get: () => id.value, set: (v: number) => void go({ controller: String(v) }) })
const at = computed(() => String(route.query.at ?? ''))
const go = (query: Record<string, string>) => router.replace({ path: '/build/terminals', query })
const { query, unit } = useTerminals(id)
const data = computed(() => query.data.value)
const all = computed<Terminal[]>(() => data.value?.boards.flatMap((b) => b.terminals) ?? [])
const chosen = computed(() => [...all.value, ...(data.value?.power ?? [])].find((t) => t.at === at.value))
const named = computed(() => Number(route.query.named ?? 0))
watch(
  () => [named.value, all.value.length],
  () => {
    const t = named.value && all.value.find((x) => x.use?.id === named.value && x.use.kind !== 'door')
    if (t) void go({ controller: String(id.value), at: t.at })
  },
)
const choose = (to: string) => go({ controller: String(id.value), at: to === at.value ? '' : to })

const told = ref('')
const dragged = ref<Terminal>()
const drop = (to: string) =>
  attempt(async () => {
    const u = dragged.value?.use
    dragged.value = undefined
    if (!u) return
    const body = { kind: u.kind, id: u.id, to, ...(u.kind === 'door' ? { role: u.role as 'contact' } : {}) }
    told.value = (await ask(api.POST('/api/terminals/move', { body }))).words
    await go({ controller: String(id.value), at: to })
  })
function moved(words: string, to: string) {
  told.value = words
  void go({ controller: String(id.value), at: to })
}

const kinds = { readers: 'readers, for two doors', inputs: '16 inputs', outputs: '16 outputs' } as const
/** Adds or takes away an expander: it is part of the controller's own sheet, over the revision that is read now. */
const setExpanders = (change: (list: { address: number; kind: keyof typeof kinds; name?: string }[]) => unknown) =>
  attempt(async () => {
    const c = await fetchObject('controller', id.value)
    const list = [...(c.value.expanders ?? [])]
    change(list)
    await ask(
      api.PUT('/api/controllers/{id}', {
        params: { path: { id: id.value } },
        body: { rev: c.rev, value: { ...c.value, expanders: list } },
      }),
    )
    told.value = 'The bus is as you said; send it, and set the address at the expander itself.'
  })
const add = (kind: keyof typeof kinds) => setExpanders((list) => list.push({ address: data.value!.freeBus, kind }))
async function remove(address: number, title: string) {
  if (
    await sure(
      `Take ${title} off the bus?`,
      'What is wired to it keeps its terminals until you move it; a finding says so.',
      'Take it off',
    )
  )
    await setExpanders((list) =>
      list.splice(
        list.findIndex((e) => e.address === address),
        1,
      ),
    )
}
</script>

<template>
  <SheetFrame :title="data?.name ?? 'Terminals'">
    <template #under
      >Terminals: what is wired where, and what it says now<template v-if="unit?.firmware">
        · firmware {{ unit.firmware }}</template
      ></template
    >
    <template #actions>
      <RouterLink v-if="id" class="btn" :to="`/build/controllers/${id}`">Its sheet</RouterLink>
      <RouterLink class="btn" to="/build/schedule">Print the schedule</RouterLink>
    </template>
    <BuildTabs />
    <div v-if="site.units.length > 1" class="mb-3 flex flex-wrap items-center gap-2">
      <span class="label">Controller</span>
      <ObjectPicker v-model="which" kind="controller" class="w-64" label="Controller" />
    </div>
    <StateBox
      v-if="!data"
      :loading="query.isPending.value && id > 0"
      :error="query.error.value"
      :again="query.refetch"
      :rows="9"
      what="This controller"
    />
    <p v-if="!id" class="card p-4 text-ash">
      No controller is in service yet. <RouterLink class="underline" to="/build">Take one into service</RouterLink>; its
      terminals are drawn here.
    </p>
    <template v-if="data">
      <p class="mb-3 border-l-4 border-amber py-0.5 pl-3 text-[15px] leading-relaxed">
        <StrongText :text="data.words" />
      </p>
      <p v-if="told" role="status" class="mb-3 font-semibold">{{ told }}</p>
      <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
      <TerminalBoard
        v-for="b in data.boards"
        :key="b.number"
        :board="b"
        :chosen="at"
        :dragged="dragged"
        :power="b.number ? undefined : data.power"
        @choose="choose"
        @drag="(t) => (dragged = t)"
        @drop="drop"
      >
        <template v-if="b.number" #tools
          ><button class="btn btn-quiet px-1 py-0 text-[12px]" :disabled="busy" @click="remove(b.number, b.title)">
            Take off
          </button></template
        >
      </TerminalBoard>
      <div v-if="data.freeBus" class="flex flex-wrap items-center gap-2 text-[13px]">
        <span class="text-ash">Add an expander at address {{ data.freeBus }}:</span>
        <button v-for="(w, k) in kinds" :key="k" class="btn px-2 py-0.5" :disabled="busy" @click="add(k)">
          {{ w }}
        </button>
      </div>
    </template>
    <template #aside>
      <TerminalBeside
        v-if="chosen"
        :controller="id"
        :terminal="chosen"
        :all="all"
        :online="!!data?.online"
        :stand-in="!!data?.standIn"
        @moved="moved"
      />
      <div v-else class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p><b>Choose a terminal</b> to see what it measures, to move what is on it, or to try it.</p>
        <p>Arrows walk from one to the next; Enter chooses. A dashed one is free.</p>
      </div>
    </template>
  </SheetFrame>
</template>
