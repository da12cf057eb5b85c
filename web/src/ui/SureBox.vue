<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref, watch } from 'vue'
import FormField from './FormField.vue'
import { question } from './sure'

const word = ref('')
const field = ref<HTMLElement>()
const no = ref<HTMLElement>()
watch(question, () => {
  word.value = ''
})
</script>

<template>
  <Dialog
    v-if="question"
    :open="true"
    class="relative z-50"
    :initial-focus="question.label ? field : no"
    @close="question.answer(undefined)"
  >
    <div class="fixed inset-0 bg-basalt/50" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center p-6">
      <DialogPanel
        as="form"
        class="w-[420px] rounded-lg bg-plaster p-5"
        @submit.prevent="(!question.label || word.trim()) && question.answer(word)"
      >
        <DialogTitle as="h1" class="text-[19px]">{{ question.title }}</DialogTitle>
        <p v-if="question.words" class="my-3">{{ question.words }}</p>
        <FormField v-if="question.label" v-slot="f" :label="question.label" class="my-3"
          ><input :id="f.id" ref="field" v-model="word" class="field"
        /></FormField>
        <div class="flex gap-2">
          <button class="btn btn-amber" :disabled="!!question.label && !word.trim()">{{ question.yes }}</button><button
            ref="no"
            type="button"
            class="btn"
            @click="question.answer(undefined)"
          >
            {{ question.no }}
          </button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
