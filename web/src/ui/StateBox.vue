<script setup lang="ts">
import { Trouble } from '../api/client'

/** What stands where a thing is not there: on its way, gone, failed, nothing yet, or nothing found. */
defineProps<{ loading?: boolean; error?: unknown; rows?: number; again?: () => unknown; what?: string }>()
const gone = (e: unknown) => e instanceof Trouble && e.status === 404
</script>

<template>
  <div v-if="error && gone(error)" role="status" class="card p-4">
    <p class="font-bold">{{ what ?? 'It' }} is not there, or no longer.</p>
    <p class="text-ash">
      Somebody may have removed it; <RouterLink class="underline" to="/history">the history</RouterLink> says who, and
      can bring it back. When it is back, it stands here again.
    </p>
  </div>
  <div v-else-if="error" role="alert" class="card p-4">
    <p class="font-semibold text-wine">{{ (error as Error).message }}</p>
    <button v-if="again" class="btn mt-2" @click="again()">Try again</button>
  </div>
  <div v-else-if="loading" role="status" aria-label="Loading" class="card space-y-3 p-4">
    <div v-for="i in rows ?? 4" :key="i" class="skeleton h-4" :style="{ width: `${92 - ((i * 17) % 40)}%` }" />
  </div>
</template>
