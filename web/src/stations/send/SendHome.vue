<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { calmly, listen } from '../../api/live'
import SheetFrame from '../../parts/SheetFrame.vue'
import { useSite } from '../../site'
import { dateOf, many, timeOf } from '../../words'

const site = useSite()
const list = ref<Schemas['Pending'][]>()
const copies = ref<Schemas['Manifest'][]>([])
const problem = ref('')
const done = ref('')
const busy = ref(false)
const all = ref(new Set<number>())
const zone = site.overview!.sites[0]?.zone ?? 'UTC'

async function look() {
  try {
    ;[list.value, copies.value] = await Promise.all([ask(api.GET('/api/pending')), ask(api.GET('/api/copies'))])
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const soon = calmly(look, 100)
const stop = listen((n) => { if (!n.event) soon() })
onMounted(look)
onBeforeUnmount(() => { stop(); soon.cancel() })

const lacking = computed(() => (list.value ?? []).filter((p) => p.lacks))
async function send(controllers: number[]) {
  busy.value = true
  problem.value = done.value = ''
  try {
    const before = lacking.value.filter((p) => !controllers.length || controllers.includes(p.id)).length
    list.value = await ask(api.POST('/api/send', { body: { controllers } }))
    const left = lacking.value.filter((p) => p.wanted).length
    done.value = left ? `${many(before - left, 'controller is', 'controllers are')} up to date; ${many(left, 'one waits', 'wait')} for the network and will be sent by itself.` : `Sent, and every hash was checked: ${many(before, 'controller is', 'controllers are')} up to date.`
    void site.refresh()
  } catch (e) {
    problem.value = (e as Error).message
    void look()
  } finally {
    busy.value = false
  }
}
async function cancel(id: number) {
  list.value = await ask(api.POST('/api/send/{id}/cancel', { params: { path: { id } } }))
}
</script>

<template>
  <SheetFrame title="Send" under="What each controller lacks, in words. Nothing changes at a door before it is sent.">
    <template #actions><button class="btn btn-amber" :disabled="busy || !lacking.length" @click="send([])">{{ busy ? 'Sending …' : lacking.length ? `Send to ${many(lacking.length, 'controller', 'controllers')}` : 'Nothing to send' }}</button></template>
    <p v-if="problem" role="alert" class="mb-3 font-semibold text-wine">{{ problem }}</p>
    <p v-if="done" role="status" class="mb-3 font-semibold text-kelp">{{ done }}</p>
    <p v-if="list && !list.length" class="text-ash">No controller is in service yet. Build is where they are found.</p>
    <section v-for="p in list" :key="p.id" class="card mb-3">
      <div class="card-head">
        <h2 class="flex items-center gap-2.5"><span class="size-2.5 rounded-full" :class="p.online ? 'bg-kelp' : 'border-2 border-wine'" />{{ p.name }}</h2>
        <span class="note flex items-center gap-3">
          <template v-if="p.sending"><progress class="h-2 w-32 accent-kelp" :max="p.sending.size || 1" :value="p.sending.sent" /> sending</template>
          <template v-else-if="!p.changes.length"><b class="text-kelp">up to date</b> since {{ dateOf(p.sentAt, zone) }} {{ timeOf(p.sentAt, zone) }} · <span class="font-mono" :title="`SHA-256 ${p.hash}`">{{ p.hash.slice(0, 8) }}</span></template>
          <template v-else-if="p.wanted">off the network: sent on its return <button class="btn px-2 py-0.5" @click="cancel(p.id)">Do not</button></template>
          <template v-else><template v-if="!p.online"><b class="text-wine">off the network</b></template> {{ many(p.changes.length, 'change', 'changes') }} <button class="btn px-2 py-0.5" :disabled="busy" @click="send([p.id])">{{ p.online ? 'Send' : 'Send on its return' }}</button></template>
        </span>
      </div>
      <p v-if="p.refused" class="px-3.5 pt-2 font-semibold text-wine">Cannot be sent: {{ p.refused }}.</p>
      <p v-if="p.drifted" class="px-3.5 pt-2 text-[13px] text-wine">It holds something else than was sent to it, so everything is sent anew.</p>
      <ul v-if="p.changes.length" class="px-3.5 py-2 text-[13px]">
        <li v-for="(c, i) in all.has(p.id) ? p.changes : p.changes.slice(0, 8)" :key="i" class="flex gap-3 py-0.5"><span class="note w-20 shrink-0">{{ c.kind }}</span>{{ c.words }}</li>
        <li v-if="p.changes.length > 8 && !all.has(p.id)"><button class="underline" @click="all = new Set([...all, p.id])">and {{ p.changes.length - 8 }} more</button></li>
      </ul>
    </section>
    <template #aside>
      <h2>How sending works</h2>
      <div class="card space-y-2 p-3 text-[13px] leading-relaxed">
        <p>Each controller gets one image: all it needs to decide alone.</p>
        <p>Afterwards it reports the hash of what it holds; only when that is right does it count as sent.</p>
        <p>A complete copy of the database is kept before every send, the newest 20.</p>
      </div>
      <h2>Copies kept</h2>
      <p v-if="!copies.length" class="note">None yet; the first is made before the next send.</p>
      <div v-else class="card text-[13px]">
        <div v-for="c in copies.slice(0, 6)" :key="c.file" class="border-t border-seam px-3 py-2 first:border-t-0" :title="`${c.file}, ${(c.bytes / 1e6).toFixed(1)} MB`">
          {{ dateOf(Date.parse(c.at), zone) }} {{ timeOf(Date.parse(c.at), zone) }}
          <p class="note">{{ c.why }}, by {{ c.who }}: {{ many(c.counts.door ?? 0, 'door', 'doors') }}, {{ many(c.counts.person ?? 0, 'person', 'people') }}</p>
        </div>
      </div>
    </template>
  </SheetFrame>
</template>
