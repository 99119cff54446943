<script setup lang="ts">
import type { Board, BoardRow } from '#core/contract/rounds'
import { isIncomplete, type BoardPart } from '~/rounds/boardView'
import type { BoardWork } from '~/rounds/useBoard'

/**
 * A round, unit by unit, as its view says. Arrows move, Enter opens beside the board. A thousand rows are
 * scrolled in place.
 */
const {
  board,
  work,
  selectable = false,
} = defineProps<{ board: Board; work: BoardWork; selectable?: boolean }>()
const emit = defineEmits<{ open: [row: BoardRow] }>()
const words = useWords()
const { t } = words
const COLUMNS = 9
/** How many rounds a row shows, and how many of them on a narrow page. */
const ALL = 12
const FEW = 6
/** A board with more rows than this draws only those that are in sight. */
const LONG = 60
/** The height of a row of a long board: rows that are not drawn must be known. */
const ROW_HEIGHT = 36
const isLong = computed(() => work.rows.value.length > LONG)
const isGrouped = computed(() => work.view.value.group !== 'none')

/** A facility, or (on a long board, where a heading is a row like any other) the heading of a group. */
interface Row {
  key: string
  part: string
  row: BoardRow | null
}
const partOf = computed(() => new Map(work.parts.value.map(part => [part.key, part])))
const rowsOf = ({ key, rows }: BoardPart): Row[] => rows.map(row => ({ key: row.unit.code, part: key, row }))
const rows = computed<Row[]>(() =>
  work.parts.value.flatMap(part =>
    isLong.value && isGrouped.value
      ? [{ key: `part ${part.key}`, part: part.key, row: null }, ...rowsOf(part)]
      : rowsOf(part),
  ),
)
/** What a group's heading says. */
function headingOf({ part }: Row): string {
  const { name, rows: own } = partOf.value.get(part)!
  const accepted = own.filter(row => row.state === 'accepted').length
  const overdue = own.filter(row => row.sign === 'overdue').length
  return [
    name,
    t('board.zone', { accepted, count: own.length }),
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
    :row-group-mode="isGrouped && !isLong ? 'subheader' : undefined"
    :group-rows-by="isGrouped && !isLong ? 'part' : undefined"
    :scrollable="isLong"
    :scroll-height="isLong ? 'calc(100vh - 300px)' : undefined"
    :virtual-scroller-options="isLong ? { itemSize: ROW_HEIGHT, numToleratedItems: 4 } : undefined"
    :row-class="(data: Row) => ({ zone: !data.row, chosen: data.key === work.open.value })"
    :class="{ long: isLong }"
    :pt="{ rowGroupHeaderCell: { colspan: COLUMNS } }"
    :table-props="{ 'aria-label': t('board.title') }"
    @row-select="$event.data.row && emit('open', $event.data.row)"
  >
    <template #groupheader="{ data }">{{ headingOf(data) }}</template>
    <Column v-if="selectable" class="tick">
      <template #header
        ><span class="visually-hidden">{{ t('boardActs.title') }}</span
        ><Checkbox
          :model-value="work.isAllSelected.value"
          binary
          :aria-label="t('boardActs.selectAll')"
          @update:model-value="work.select(work.rows.value, $event)"
      /></template>
      <template #body="{ data: { row } }"
        ><span v-if="row" class="tick-cell" @click.stop @keydown.stop
          ><Checkbox
            :model-value="work.isSelected(row.unit.code)"
            binary
            :aria-label="t('boardActs.select', { unit: row.unit.name })"
            @update:model-value="work.select([row], $event)" /></span
      ></template>
    </Column>
    <Column :header="t('board.facility')" class="name"
      ><template #body="{ data: { row }, data }"
        ><strong v-if="row">{{ row.unit.name }}</strong
        ><strong v-else class="zone-words">{{ headingOf(data) }}</strong></template
      ></Column
    >
    <Column class="wide">
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
    <Column :header="words.period(board.round.period)" class="wide">
      <template #body="{ data: { row } }">
        <template v-if="row">
          <StateTag :sign="row.sign" />
          <span v-if="row.daysLate" class="quiet small"> {{ t('board.late', { days: row.daysLate }) }}</span>
          <WordTag v-if="row.late" tone="amber">{{
            t('board.arrivedLate', { count: row.late }, row.late)
          }}</WordTag>
          <WordTag v-if="row.onPaper" tone="dusk">{{ t('board.onPaper') }}</WordTag>
        </template>
      </template>
    </Column>
    <Column :header="t('board.received')" class="on-wide"
      ><template #body="{ data: { row } }"
        ><template v-if="row">{{ row.receivedAt ? words.day(row.receivedAt) : '–' }}</template></template
      ></Column
    >
    <Column :header="t('board.answered')" class="number"
      ><template #body="{ data: { row } }"
        ><span v-if="row" :class="{ lacks: isIncomplete(row) }">{{
          row.state === 'awaited' ? '·' : words.percent(row.filled)
        }}</span></template
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
.long :deep(th.name) {
  width: 25%;
}
.long :deep(th.wide) {
  width: 20%;
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
.lacks {
  color: var(--amber-7);
  font-weight: 700;
}
.tick-cell {
  display: inline-flex;
}
:deep(.tick) {
  width: 44px;
}
:deep(tr.chosen) {
  background: var(--amber-0);
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
