<script setup lang="ts">
import type { Board, BoardRow } from '#core/contract/rounds'
import { groupBy } from '#core/group-by'

/** A round, unit by unit, in its zones. Arrows move, Enter opens. A thousand rows are scrolled in place. */
const { board } = defineProps<{ board: Board }>()
const emit = defineEmits<{ open: [row: BoardRow] }>()
const words = useWords()
const { t } = words
const COLUMNS = 7
/** How many rounds a row shows, and how many of them on a narrow page. */
const ALL = 12
const FEW = 6
/** A board with more rows than this draws only those that are in sight. */
const LONG = 60
/** The height of a row of a long board: rows that are not drawn must be known. */
const ROW_HEIGHT = 36
const isLong = computed(() => board.rows.length > LONG)

/** A facility, or (on a long board, where a heading is a row like any other) the heading of a zone. */
interface Row {
  key: string
  zoneCode: string
  zone: BoardRow['zone']
  row: BoardRow | null
}
const zones = computed(() => groupBy(board.rows, row => row.zone.code))
const rowOf = (row: BoardRow): Row => ({ key: row.unit.code, zoneCode: row.zone.code, zone: row.zone, row })
const rows = computed<Row[]>(() =>
  isLong.value
    ? [...zones.value].flatMap(([zoneCode, inZone]) => [
        { key: `zone ${zoneCode}`, zoneCode, zone: inZone[0]!.zone, row: null },
        ...inZone.map(rowOf),
      ])
    : board.rows.map(rowOf),
)
/** What a zone's heading says. */
function zoneWords({ zoneCode, zone }: Row): string {
  const inZone = zones.value.get(zoneCode)!
  const accepted = inZone.filter(row => row.state === 'accepted').length
  const overdue = inZone.filter(row => row.sign === 'overdue').length
  return [
    zone.name,
    t('board.zone', { accepted, count: inZone.length }),
    ...(overdue ? [t('board.zoneOverdue', { count: overdue }, overdue)] : []),
  ].join(' · ')
}
const lanternWords = (row: BoardRow) =>
  row.lanterns
    .map(({ period, sign }) =>
      words.pair(words.period(period, 'short'), sign ? t(`state.${sign}`) : t('board.notExpected')),
    )
    .join('; ')
/** Arrows move from row to row; the first one goes into the table, without a click. */
useKeys([
  {
    key: 'ArrowDown',
    says: 'keys.move',
    run: () => document.querySelector<HTMLElement>('.p-datatable-selectable-row')?.focus(),
  },
])
const isReceived = (row: BoardRow) => row.receivedAt !== null
</script>

<template>
  <DataTable
    :value="rows"
    data-key="key"
    selection-mode="single"
    :row-group-mode="isLong ? undefined : 'subheader'"
    :group-rows-by="isLong ? undefined : 'zoneCode'"
    :scrollable="isLong"
    :scroll-height="isLong ? 'calc(100vh - 300px)' : undefined"
    :virtual-scroller-options="isLong ? { itemSize: ROW_HEIGHT, numToleratedItems: 4 } : undefined"
    :row-class="(data: Row) => ({ zone: !data.row })"
    :class="{ long: isLong }"
    :pt="{ rowGroupHeaderCell: { colspan: COLUMNS } }"
    :table-props="{ 'aria-label': t('board.title') }"
    @row-select="$event.data.row && emit('open', $event.data.row)"
  >
    <template #groupheader="{ data }">{{ zoneWords(data) }}</template>
    <Column :header="t('board.facility')"
      ><template #body="{ data: { row }, data }"
        ><strong v-if="row">{{ row.unit.name }}</strong
        ><strong v-else class="zone-words">{{ zoneWords(data) }}</strong></template
      ></Column
    >
    <Column>
      <template #header
        ><strong class="all">{{ t('board.lastRounds', { count: ALL }) }}</strong
        ><strong class="few">{{ t('board.lastRounds', { count: FEW }) }}</strong></template
      >
      <template #body="{ data: { row } }">
        <span v-if="row" class="lanterns" role="img" :aria-label="lanternWords(row)">
          <template v-for="one in row.lanterns" :key="one.round">
            <LanternSign v-if="one.sign" :sign="one.sign" :size="17" /><span v-else class="gap" />
          </template>
        </span>
      </template>
    </Column>
    <Column :header="words.period(board.round.period)">
      <template #body="{ data: { row } }">
        <template v-if="row">
          <StateTag :sign="row.sign" />
          <span v-if="row.daysLate" class="quiet small"> {{ t('board.late', { days: row.daysLate }) }}</span>
          <WordTag v-if="row.late" tone="amber">{{
            t('board.arrivedLate', { count: row.late }, row.late)
          }}</WordTag>
          <span v-if="!row.daysLate && row.state === 'draft'" class="quiet small filled">{{
            t('board.filled', { share: words.percent(row.filled) })
          }}</span>
        </template>
      </template>
    </Column>
    <Column :header="t('board.received')" class="on-wide"
      ><template #body="{ data: { row } }"
        ><template v-if="row">{{ row.receivedAt ? words.day(row.receivedAt) : '–' }}</template></template
      ></Column
    >
    <Column :header="t('strength.mustFix')" class="number"
      ><template #body="{ data: { row } }"
        ><span v-if="row" :class="{ many: row.mustFix }">{{
          isReceived(row) ? row.mustFix : '·'
        }}</span></template
      ></Column
    >
    <Column :header="t('strength.explain')" class="number"
      ><template #body="{ data: { row } }"
        ><template v-if="row">{{ isReceived(row) ? row.explain : '·' }}</template></template
      ></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('act.open') }}</span></template
      ><template #body="{ data: { row } }"
        ><NuxtLink
          v-if="row"
          class="open"
          :to="facilityLink(board.round.id, row.unit.code)"
          :aria-label="t('board.open', { unit: row.unit.name })"
          @click.stop
          >{{ t('act.open') }}</NuxtLink
        ></template
      ></Column
    >
  </DataTable>
  <div class="legend small quiet">
    <span v-for="sign in ['awaited', 'draft', 'sent', 'sentBack', 'accepted', 'overdue'] as const" :key="sign"
      ><LanternSign :sign="sign" :size="16" /> {{ t(`state.${sign}`) }}</span
    >
    <span class="keys"
      ><kbd>↑</kbd> <kbd>↓</kbd> {{ t('keys.move') }} · <kbd>[</kbd> <kbd>]</kbd> {{ t('keys.round') }} ·
      <kbd>?</kbd> {{ t('keys.allShort') }}</span
    >
  </div>
</template>

<style scoped>
.lanterns {
  display: inline-flex;
  gap: 1px;
  vertical-align: middle;
}
.gap {
  width: 17px;
}
strong.all,
strong.few {
  font-weight: 600;
}
.few {
  display: none;
}
@media (width < 900px) {
  .all,
  .lanterns > :nth-last-child(n + 7),
  :deep(.on-wide) {
    display: none;
  }
  .few {
    display: inline;
  }
}
/* Rows of one height: those that are not drawn take up just their room. */
.long :deep(.p-datatable-tbody > tr > td) {
  height: 36px;
  padding-block: 4px;
  white-space: nowrap;
}
/* Columns that keep their width, whatever rows are in sight. */
.long :deep(table) {
  table-layout: fixed;
}
.long :deep(th:first-child) {
  width: 27%;
}
.long :deep(th:nth-child(2)),
.long :deep(th:nth-child(3)) {
  width: 23%;
}
.long :deep(tr.zone) {
  position: relative;
  background: var(--sand);
}
/* A zone's heading is longer than its column, and must not widen it. */
.zone-words {
  position: absolute;
  top: 8px;
}
.filled {
  margin-left: 6px;
}
.many {
  color: var(--brick-7);
  font-weight: 700;
}
.open {
  font-weight: 600;
}
.legend {
  display: flex;
  gap: 16px;
  flex-wrap: wrap;
  padding: 10px 2px;
}
.legend span {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.legend .keys {
  margin-left: auto;
}
</style>
