<script setup lang="ts">
import type { Schemas } from '../../api/client'
import FormField from '../../ui/FormField.vue'

/** What is written down of somebody; nothing is decided by it, and no controller gets it. */
const person = defineModel<Schemas['Person']>({ required: true })
</script>

<template>
  <h2>Only for the record</h2>
  <div class="card space-y-2 p-3">
    <FormField v-slot="f" of="Person" field="number"
      ><input v-model="person.number" v-bind="f.bind" class="field py-1"
    /></FormField>
    <FormField v-slot="f" of="Person" field="phone"
      ><input v-model="person.phone" v-bind="f.bind" class="field py-1"
    /></FormField>
    <FormField v-slot="f" of="Person" field="email"
      ><input v-model="person.email" v-bind="f.bind" class="field py-1"
    /></FormField>
    <FormField v-slot="f" of="Person" field="note">
      <textarea v-model="person.note" v-bind="f.bind" rows="2" class="field py-1"></textarea>
    </FormField>
  </div>
</template>
