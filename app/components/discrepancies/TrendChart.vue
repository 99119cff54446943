<script setup lang="ts">
import { Line } from 'vue-chartjs'
import type { DiscrepancyFile } from '#core/contract/discrepancies'
import { CHART, LINE_OPTIONS } from '~/theme/chartLook'

/**
 * The doubted cells over the last 13 periods, with the usual range behind them. The numbers stand in a table
 * for those who do not see the picture.
 */
const { file } = defineProps<{ file: DiscrepancyFile }>()
const words = useWords()
const { t } = words
/** More lines than this cannot be told apart. */
const MOST_LINES = 4

/** Each doubted cell; when there are too many, the items that they belong to, each summed. */
const shown = computed(() => {
  if (file.cells.length <= MOST_LINES) return file.cells
  const items = new Map<string, (number | null)[]>()
  for (const { cell, trend } of file.cells) {
    const item = cell.split('.')[0]!
    const sum = items.get(item)
    items.set(
      item,
      sum
        ? sum.map((value, at) =>
            value === null && trend[at] === null ? null : (value ?? 0) + (trend[at] ?? 0),
          )
        : trend,
    )
  }
  return [...items]
    .slice(0, MOST_LINES)
    .map(([item, trend]) => ({ cell: item, name: file.items[item]!.item.name, trend }))
})
const periods = computed(() => file.periods.map(period => words.period(period, 'short')))
const data = computed(() => ({
  labels: periods.value,
  datasets: [
    ...shown.value.map(({ name, trend }, at) => ({
      label: words.say(name),
      data: trend,
      borderColor: CHART.lines[at],
      backgroundColor: CHART.lines[at],
      borderWidth: 2,
      spanGaps: false,
      tension: 0.15,
      pointRadius: trend.map((_, place) => (place === trend.length - 1 ? 5 : 2)),
      pointBackgroundColor: trend.map((_, place) =>
        place === trend.length - 1 ? CHART.doubted : CHART.lines[at]!,
      ),
    })),
    ...(file.range
      ? [
          {
            label: t('cell.usually'),
            data: periods.value.map(() => file.range!.high),
            borderWidth: 0,
            pointRadius: 0,
            backgroundColor: CHART.band,
            fill: '+1',
          },
          {
            label: '',
            data: periods.value.map(() => file.range!.low),
            borderWidth: 0,
            pointRadius: 0,
            fill: false,
          },
        ]
      : []),
  ],
}))
</script>

<template>
  <div class="card">
    <h3>{{ t('resolve.trend', { unit: file.line.unit.name, count: file.periods.length }) }}</h3>
    <div class="chart">
      <Line
        :data="data"
        :options="LINE_OPTIONS"
        role="img"
        :aria-label="t('resolve.trend', { unit: file.line.unit.name, count: file.periods.length })"
      />
    </div>
    <table class="visually-hidden">
      <caption>
        {{
          t('resolve.trend', { unit: file.line.unit.name, count: file.periods.length })
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">{{ t('round.period') }}</th>
          <th v-for="cell in shown" :key="cell.cell" scope="col">{{ words.say(cell.name) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(period, at) in periods" :key="period">
          <th scope="row">{{ period }}</th>
          <td v-for="cell in shown" :key="cell.cell">{{ words.number(cell.trend[at]) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  gap: 8px;
  position: relative;
}
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
.chart {
  height: 168px;
}
</style>
