<script setup lang="ts">
import { shiftPeriod } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { must } from '#core/result'
import type { ShownReport } from '~/reports/useReportEntry'

/** That a report looks like a copy of the one before: for the officer, before she accepts it. */
const { report } = defineProps<{ report: ShownReport }>()
const words = useWords()
const { t } = words
const likeness = computed(() => report.likeLastPeriod())
const before = computed(() => printPeriod(shiftPeriod(must(parsePeriod(report.file.round.period)), -1)))
</script>

<template>
  <p v-if="likeness.copied" class="copied" role="note">
    {{
      t('report.copied', {
        alike: words.number(likeness.alike),
        compared: words.number(likeness.compared),
        period: words.period(before),
      })
    }}
  </p>
</template>

<style scoped>
.copied {
  margin: 6px 0 12px;
  padding: 8px 12px;
  border-left: 3px solid var(--amber-5);
  background: var(--amber-0);
}
</style>
