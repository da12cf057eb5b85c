<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '../api/client'
import { useSite } from '../core/site'
import { many } from '../words'
import { useAttempt } from './attempt'

/** What was saved and has not been sent, offered to be sent now. Nothing where nothing waits. */
const site = useSite()
const { attempt, busy, problem } = useAttempt()
const waits = computed(() => site.overview?.lacking ?? 0)
const send = () => attempt(async () => void (await ask(api.POST('/api/send', { body: { controllers: [] } }))))
</script>

<template>
  <div v-if="waits" class="card p-3 text-[13px]" role="status" aria-label="Not sent yet">
    <p>{{ many(waits, 'controller lacks', 'controllers lack') }} what was saved; doors go on as before.</p>
    <p class="mt-1.5 flex gap-2">
      <button class="btn px-2 py-0.5" :disabled="busy" @click="send">
        {{ busy ? 'Sending …' : 'Send now' }}</button><RouterLink class="btn px-2 py-0.5" to="/send"
        >What it does</RouterLink
      >
    </p>
    <p v-if="problem" role="alert" class="mt-1 font-semibold text-wine">{{ problem }}</p>
  </div>
</template>
