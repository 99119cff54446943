<script setup lang="ts">
import type { ReportingOverTime } from '#core/contract/over-time'
import type { ReportingTotal, ReportMark } from '#core/quality/over-time'
import type { Measure, OverTimeRow } from '~/rounds/overTimeRows'

/**
 * Facilities down, rounds across: in each place the lantern of the report and the share of it that is answered;
 * for a zone, and for all, a bar with its share.
 */
const { table, rows, measure } = defineProps<{
  table: ReportingOverTime
  rows: readonly OverTimeRow[]
  measure: Measure
}>()
const words = useWords()
const { t } = words
/** A longer table draws only the rows in sight, of one known height. */
const LONG = 60
const ROW_HEIGHT = 46
const isLong = computed(() => rows.length > LONG)
const answered = ({ answered: of, applies }: ReportMark) => (applies ? of / applies : null)
const widthOf = (total: ReportingTotal) => `${100 * (total[measure] ?? 0)}%`
const counts = (total: ReportingTotal) =>
  measure === 'itemCompleteness'
    ? words.percent(total.itemCompleteness)
    : `${measure === 'completeness' ? total.received : total.onTime}/${total.expected}`
</script>

<template>
  <DataTable
    :value="[...rows]"
    data-key="key"
    scrollable
    :scroll-height="isLong ? 'calc(100vh - 260px)' : undefined"
    :virtual-scroller-options="isLong ? { itemSize: ROW_HEIGHT, numToleratedItems: 4 } : undefined"
    :row-class="(row: OverTimeRow) => row.kind"
    :table-props="{ 'aria-label': t('overTime.title') }"
  >
    <Column :header="t('board.facility')" frozen class="name"
      ><template #body="{ data: row }"
        ><NuxtLink v-if="row.kind === 'unit'" :to="facilityLink(table.rounds.at(-1)!.id, row.key)">{{
          row.name
        }}</NuxtLink
        ><strong v-else>{{
          row.kind === 'all' ? t('overTime.all', { unit: row.name }) : row.name
        }}</strong></template
      ></Column
    >
    <Column
      v-for="(round, at) in table.rounds"
      :key="round.id"
      :header="words.period(round.period, 'short')"
      class="place"
    >
      <template #body="{ data: row }">
        <template v-if="row.kind === 'unit'">
          <NuxtLink v-if="row.marks[at]" class="mark" :to="facilityLink(round.id, row.key)">
            <span class="visually-hidden">{{
              words.pair(words.period(round.period, 'short'), t(`state.${row.marks[at].sign}`))
            }}</span>
            <span class="sign"
              ><LanternSign :sign="row.marks[at].sign" :size="18" /><span
                v-if="row.marks[at].received && !row.marks[at].onTime"
                class="late"
                >{{ t('overTime.lateShort') }}</span
              ></span
            >
            <small>{{ row.marks[at].received ? words.percent(answered(row.marks[at])) : '·' }}</small>
          </NuxtLink>
          <span v-else class="visually-hidden">{{ t('board.notExpected') }}</span>
        </template>
        <span v-else-if="row.totals[at].expected" class="total">
          <span>{{ words.percent(row.totals[at][measure]) }}</span>
          <span class="bar" aria-hidden="true"><span :style="{ width: widthOf(row.totals[at]) }" /></span>
        </span>
      </template>
    </Column>
    <Column :header="t(`overTime.${measure}`)" class="place whole"
      ><template #body="{ data: row }"
        ><strong>{{ counts(row.whole) }}</strong></template
      ></Column
    >
  </DataTable>
</template>

<style scoped>
:deep(th.place),
:deep(td.place) {
  padding: 4px 6px;
  text-align: center;
}
:deep(th.place .p-datatable-column-header-content) {
  justify-content: center;
}
:deep(td.name) {
  min-width: 190px;
  padding-block: 4px;
}
:deep(tr.zone),
:deep(tr.all),
:deep(tr.zone td),
:deep(tr.all td) {
  background: var(--sand);
}
:deep(tr) {
  height: 46px;
}
.mark {
  display: inline-grid;
  justify-items: center;
  min-width: 34px;
  color: inherit;
  text-decoration: none;
}
.mark small {
  font-size: 12px;
  line-height: 1.2;
  color: var(--ink-5);
}
.sign {
  display: inline-flex;
  align-items: center;
}
.late {
  font-size: 12px;
  font-weight: 700;
  color: var(--amber-7);
}
.total {
  display: grid;
  gap: 3px;
  min-width: 40px;
  font-weight: 600;
  font-size: 13px;
}
.bar {
  display: block;
  height: 4px;
  background: var(--line);
  border-radius: 2px;
}
.bar span {
  display: block;
  height: 100%;
  background: var(--plum-5);
  border-radius: 2px;
}
</style>
