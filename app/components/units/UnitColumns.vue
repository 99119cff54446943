<script setup lang="ts">
import type { ColumnMatch, UnitHeadings } from '#core/exchange/unit-columns'
import { NEEDED_COLUMNS, UNIT_COLUMNS, type UnitColumn } from '#core/geography/unit-row'

/**
 * Which column of a file holds what: found by the headings, and matched by hand where they are called
 * otherwise.
 */
const { match } = defineProps<{ match: ColumnMatch }>()
const emit = defineEmits<{ match: [columns: UnitHeadings] }>()
const { t } = useI18n()
const open = ref(match.missing.length > 0)
watch(
  () => match.missing.length,
  missing => {
    if (missing) open.value = true
  },
)

const labelOf = (column: UnitColumn) =>
  `${t(`units.column.${column}`)}${NEEDED_COLUMNS.includes(column) ? `, ${t('units.columnNeeded')}` : ''}`
const options = computed(() => [
  { value: null as string | null, label: t('units.columnNone') },
  ...match.headings.map(heading => ({ value: heading as string | null, label: heading })),
])

function choose(column: UnitColumn, heading: string | null) {
  // A heading holds one column only: what had it before is free again.
  const others = Object.entries(match.columns).filter(([other, name]) => other !== column && name !== heading)
  emit(
    'match',
    Object.fromEntries([...others, ...(heading === null ? [] : [[column, heading]])]) as UnitHeadings,
  )
}
</script>

<template>
  <details :open="open" @toggle="event => (open = (event.target as HTMLDetailsElement).open)">
    <summary>{{ t('units.columns') }}</summary>
    <p class="small quiet">{{ t('units.columnsHint') }}</p>
    <div class="columns">
      <div
        v-for="column in UNIT_COLUMNS"
        :key="column"
        class="field"
        :class="{ missing: match.missing.includes(column) }"
      >
        <PickOne
          :model-value="match.columns[column] ?? null"
          :input-id="`column-${column}`"
          :label="labelOf(column)"
          :options="options"
          @update:model-value="heading => choose(column, heading ?? null)"
        />
      </div>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-weight: 600;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 10px 16px;
}
.missing {
  padding-left: 8px;
  border-left: 3px solid var(--brick-7);
}
</style>
