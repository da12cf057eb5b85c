<script setup lang="ts">
import { useSite } from '../core/site'

/** A calendar to save, by the clock of each site. */
defineProps<{ name: string }>()
const site = useSite()
</script>

<template>
  <p v-if="site.overview!.sites.length" class="note">
    As iCalendar
    <template v-for="(s, i) in site.overview!.sites" :key="s.id"
      ><template v-if="i"> · </template
      ><a
        class="underline underline-offset-3"
        :href="`/api/calendars/${name}.ics?site=${s.id}`"
        download
        :title="`By the clock and the holidays of ${s.name}`"
        >{{ s.name }}</a
      ></template
    >
  </p>
</template>
