<script setup lang="ts">
import type { ReportEntry } from '~/reports/useReportEntry'

/** Says of a closed round what became of what was typed before it closed, and what can be done. */
const { entry } = defineProps<{ entry: ReportEntry }>()
const words = useWords()
const { t } = words
</script>

<template>
  <div class="closed" role="status">
    <strong>{{ t('closed.since', { day: words.dueDay(entry.file.round.closesAt) }) }}</strong>{{ ' ' }}
    <template v-if="entry.hasRefused.value">
      {{ t('closed.offered') }} <NuxtLink to="/desk/needs-you">{{ t('closed.look') }}</NuxtLink></template
    >
    <template v-else> {{ t('closed.ask') }}</template>
  </div>
</template>

<style scoped>
.closed {
  padding: 10px 16px;
  background: var(--brick-0);
  border-bottom: 1px solid var(--line);
  color: var(--ink-9);
}
</style>
