<script setup lang="ts">
import type { Board, BoardRow } from '#core/contract/rounds'

/** A round, unit by unit, in its zones. Arrows move, Enter opens. */
const { board } = defineProps<{ board: Board }>()
const emit = defineEmits<{ open: [row: BoardRow] }>()
const words = useWords()
const { t } = words
const COLUMNS = 7
/** How many rounds a row shows, and how many of them on a narrow page. */
const ALL = 12
const FEW = 6
const rows = computed(() => board.rows.map(row => ({ ...row, zoneCode: row.zone.code, key: row.unit.code })))
const inZone = (zone: string) => board.rows.filter(row => row.zone.code === zone)
const accepted = (zone: string) => inZone(zone).filter(row => row.state === 'accepted').length
const overdue = (zone: string) => inZone(zone).filter(row => row.sign === 'overdue').length
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
    row-group-mode="subheader"
    group-rows-by="zoneCode"
    :pt="{ rowGroupHeaderCell: { colspan: COLUMNS } }"
    :table-props="{ 'aria-label': t('board.title') }"
    @row-select="emit('open', $event.data)"
  >
    <template #groupheader="{ data }">
      {{ data.zone.name }} ·
      {{ t('board.zone', { accepted: accepted(data.zone.code), count: inZone(data.zone.code).length }) }}
      <span v-if="overdue(data.zone.code)">
        · {{ t('board.zoneOverdue', { count: overdue(data.zone.code) }, overdue(data.zone.code)) }}</span
      >
    </template>
    <Column :header="t('board.facility')"
      ><template #body="{ data }"
        ><strong>{{ data.unit.name }}</strong></template
      ></Column
    >
    <Column>
      <template #header
        ><strong class="all">{{ t('board.lastRounds', { count: ALL }) }}</strong
        ><strong class="few">{{ t('board.lastRounds', { count: FEW }) }}</strong></template
      >
      <template #body="{ data }">
        <span class="lanterns" role="img" :aria-label="lanternWords(data)">
          <template v-for="one in data.lanterns" :key="one.round">
            <LanternSign v-if="one.sign" :sign="one.sign" :size="17" /><span v-else class="gap" />
          </template>
        </span>
      </template>
    </Column>
    <Column :header="words.period(board.round.period)">
      <template #body="{ data }">
        <StateTag :sign="data.sign" />
        <span v-if="data.daysLate" class="quiet small"> {{ t('board.late', { days: data.daysLate }) }}</span>
        <WordTag v-if="data.late" tone="amber">{{
          t('board.arrivedLate', { count: data.late }, data.late)
        }}</WordTag>
        <span v-if="!data.daysLate && data.state === 'draft'" class="quiet small">
          {{ t('board.filled', { share: words.percent(data.filled) }) }}</span
        >
      </template>
    </Column>
    <Column :header="t('board.received')" class="on-wide"
      ><template #body="{ data }">{{ data.receivedAt ? words.day(data.receivedAt) : '–' }}</template></Column
    >
    <Column :header="t('strength.mustFix')" class="number"
      ><template #body="{ data }"
        ><span :class="{ many: data.mustFix }">{{ isReceived(data) ? data.mustFix : '·' }}</span></template
      ></Column
    >
    <Column :header="t('strength.explain')" class="number"
      ><template #body="{ data }">{{ isReceived(data) ? data.explain : '·' }}</template></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('act.open') }}</span></template
      ><template #body="{ data }"
        ><NuxtLink
          class="open"
          :to="facilityLink(board.round.id, data.unit.code)"
          :aria-label="t('board.open', { unit: data.unit.name })"
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
