<script setup lang="ts">
import { useTitle } from '@vueuse/core'
import { onMounted, ref } from 'vue'
import { api, ask, Trouble } from '../api/client'
import { useSite } from '../core/site'

/** Over a page whose session has ended it is a dialog, and what is on the page stays. */
const props = defineProps<{ over?: boolean }>()
const emit = defineEmits<{ entered: [] }>()
const site = useSite()
const first = site.session?.needsUser ?? false
const name = ref(site.session?.demo?.name ?? '')
const password = ref(site.session?.demo?.password ?? '')
const code = ref('')
const problem = ref('')
const field = ref('')
const busy = ref(false)
const box = ref<HTMLElement>()
if (!props.over) useTitle('Sign in · Amber Keystone')
onMounted(() => box.value?.querySelector<HTMLElement>(props.over ? '#password' : '#name')?.focus())

async function enter() {
  busy.value = true
  try {
    const body = { name: name.value, password: password.value, ...(code.value ? { code: code.value } : {}) }
    await ask(first ? api.POST('/api/first-administrator', { body }) : api.POST('/api/sign-in', { body }))
    emit('entered')
  } catch (e) {
    problem.value = (e as Error).message
    field.value = e instanceof Trouble ? (Object.keys(e.fields)[0] ?? '') : ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <component
    :is="over ? 'div' : 'main'"
    ref="box"
    class="grid place-items-center"
    :class="over ? 'fixed inset-0 z-50 bg-basalt/70' : 'min-h-screen bg-basalt'"
    :role="over ? 'dialog' : undefined"
    :aria-modal="over || undefined"
    aria-labelledby="sign-in-title"
  >
    <form class="w-[360px] max-w-full rounded-lg bg-plaster p-7" @submit.prevent="enter">
      <div class="mb-5 flex items-center gap-3">
        <img src="/keystone.svg" alt="" class="h-9" />
        <div>
          <h1 id="sign-in-title">{{ over ? 'Your session has ended' : 'Amber Keystone' }}</h1>
          <p class="note">
            {{
              over
                ? 'Sign in to go on; nothing that you typed is lost.'
                : first
                  ? 'The first administrator'
                  : 'Doors, decided and proved'
            }}
          </p>
        </div>
      </div>
      <p v-if="first" class="mb-4">
        Nobody can sign in yet. Choose a name and a password of your own; there is no default one.
      </p>
      <label class="label" for="name">Name</label>
      <input id="name" v-model="name" class="field mb-3" autocomplete="username" :aria-invalid="field === 'name'" />
      <label class="label" for="password">Password</label>
      <input
        id="password"
        v-model="password"
        class="field"
        type="password"
        :autocomplete="first ? 'new-password' : 'current-password'"
        :aria-invalid="field === 'password'"
      />
      <p v-if="first" class="note mt-1">At least 10 characters. A few words do well.</p>
      <template v-if="site.session?.needsCode">
        <label class="label mt-3" for="code">Code from the server's log</label>
        <input
          id="code"
          v-model="code"
          class="field font-mono"
          autocomplete="one-time-code"
          :aria-invalid="field === 'code'"
        />
        <p class="note mt-1">This server can be reached by others, so it wrote a code into its log when it started.</p>
      </template>
      <p v-if="problem" role="alert" class="mt-3 font-semibold text-wine">{{ problem }}</p>
      <button class="btn btn-amber mt-5 w-full" :disabled="busy">{{ first ? 'Begin' : 'Sign in' }}</button>
      <p v-if="site.session?.demo" class="note mt-4 border-t border-seam pt-3">
        This is the demo: an invented museum with stand-in controllers. Sign in as
        <b class="text-ink">{{ site.session.demo.name }}</b> with
        <b class="text-ink">{{ site.session.demo.password }}</b>.
      </p>
    </form>
  </component>
</template>
