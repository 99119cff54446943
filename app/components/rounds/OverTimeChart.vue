<script setup lang="ts">
import { Line } from 'vue-chartjs'
import type { ReportingOverTime } from '#core/contract/over-time'
import { CHART, LINE_OPTIONS } from '~/theme/chartLook'
import { MEASURES, type OverTimeRow } from '~/rounds/overTimeRows'

/** The three figures of reporting over the rounds, of all facilities. The table beside it has the numbers. */
const { table, all } = defineProps<{ table: ReportingOverTime; all: OverTimeRow }>()
const words = useWords()
const { t } = words
const DASHES = [[], [6, 4], [2, 3]]
const data = computed(() => ({
  labels: table.rounds.map(({ period }) => words.period(period, 'short')),
  datasets: MEASURES.map((measure, at) => ({
    label: t(`overTime.${measure}`),
    data: all.totals.map(total => (total[measure] === null ? null : 100 * total[measure])),
    borderColor: CHART.lines[at]!,
    backgroundColor: CHART.lines[at]!,
    borderDash: DASHES[at]!,
    borderWidth: 2,
    pointRadius: 2,
    tension: 0.15,
  })),
}))
const options = {
  ...LINE_OPTIONS,
  scales: {
    ...LINE_OPTIONS.scales,
    y: {
      ...LINE_OPTIONS.scales.y,
      max: 100,
      ticks: { ...LINE_OPTIONS.scales.y.ticks, callback: (value: string | number) => `${value}%` },
    },
  },
}
</script>

<template>
  <div class="card chart">
    <Line :data="data" :options="options" role="img" :aria-label="t('overTime.chart')" />
  </div>
</template>

<style scoped>
.chart {
  height: 240px;
  margin-bottom: 12px;
}
</style>
