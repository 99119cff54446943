<script setup lang="ts">
import type { DueReport } from '#core/contract/rounds'

/**
 * Reports of one dataset at one facility, the newest first. It has a title where there is more than one
 * group. Many are folded: the rest is one touch away.
 */
const {
  part,
  title,
  reports,
  waitsOf,
  first = 4,
} = defineProps<{
  /** What the reports have in common, as “Due now”: two groups may be of one dataset. */
  part: string
  title: string | null
  reports: DueReport[]
  waitsOf: (report: DueReport) => 'values' | 'sending' | null
  /** So many are shown before the touch. */
  first?: number
}>()
const words = useWords()
const { t } = words
const all = ref(false)
const shown = computed(() => (all.value ? reports : reports.slice(0, first)))
</script>

<template>
  <section class="group" :aria-label="title ? words.pair(part, title) : undefined">
    <h3 v-if="title">
      {{ title }} <span class="quiet">· {{ reports.length }}</span>
    </h3>
    <DueCard
      v-for="report in shown"
      :key="`${report.round.id} ${report.unit.code}`"
      :report="report"
      :waits="waitsOf(report)"
    />
    <Button
      v-if="reports.length > shown.length"
      severity="secondary"
      text
      :label="t('due.more', { count: reports.length - shown.length }, reports.length - shown.length)"
      @click="all = true"
    />
  </section>
</template>

<style scoped>
.group {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
h3 {
  font: 600 15px/1.3 var(--body);
}
.group > :deep(button) {
  min-height: 44px;
}
</style>
