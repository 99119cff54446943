<script setup lang="ts">
import type { CellContent } from '#core/report/cell'
import type { ShownReport } from '~/reports/useReportEntry'

/** What is wrong or doubtful about the cells of one line, in a sentence each, where the person is looking. */
const { entry: report, cells } = defineProps<{ entry: ShownReport; cells: string[] }>()
const entry = fillingOf(report)
const words = useWords()
const { t } = words
const { numbers } = useDoubtWords(() => report.doubtNames)

/** A doubt about many cells is said once: at the cell that the person is in, else at the last of them. */
const saidAt = (doubted: string[]) =>
  report.active.value && doubted.includes(report.active.value) ? report.active.value : doubted.at(-1)

const said = computed(() =>
  cells
    .map(cell => ({
      cell,
      problem: entry?.problems[cell],
      conflict: entry?.conflicts[cell],
      doubts: report.doubtsAt(cell).filter(doubt => saidAt(doubt.cells) === cell),
    }))
    .filter(({ problem, conflict, doubts }) => problem || conflict || doubts.length),
)
const { contentText } = useCellText()
const shown = (cell: string, content: CellContent) => contentText(report.cellByKey.get(cell)?.item, content)
</script>

<template>
  <div
    v-for="{ cell, problem, conflict, doubts } in said"
    :id="`said-${cell}`"
    :key="cell"
    class="says"
    aria-live="polite"
  >
    <p v-if="problem" class="mustFix">{{ words.problem(problem) }}</p>
    <div v-if="conflict" class="mustFix conflict">
      <p>
        {{
          t('cell.conflict', {
            by: conflict.theirs.by,
            theirs: shown(cell, conflict.theirs.content),
            mine: shown(cell, conflict.mine),
          })
        }}
      </p>
      <Button
        size="small"
        :label="t('cell.keepTheirs', { value: shown(cell, conflict.theirs.content) })"
        severity="secondary"
        outlined
        @click="entry?.settleConflict(cell, 'theirs')"
      />
      <Button
        size="small"
        :label="t('cell.useMine', { value: shown(cell, conflict.mine) })"
        @click="entry?.settleConflict(cell, 'mine')"
      />
    </div>
    <p v-for="doubt in doubts" :key="doubt.key" :class="doubt.strength">
      <strong>{{ t(`strength.${doubt.strength}`) }}:</strong> {{ report.ruleSays(doubt.code) }}
      {{ numbers(doubt) }}
    </p>
  </div>
</template>

<style scoped>
.says {
  grid-column: 1 / -1;
  font-size: 14px;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.mustFix {
  color: var(--brick-7);
}
.explain {
  color: var(--amber-7);
}
.note {
  color: var(--dusk-7);
}
.conflict {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
