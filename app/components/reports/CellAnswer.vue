<script setup lang="ts">
import { questionOf } from '#core/form/form-of-edition'
import { useCellAnswers } from '~/reports/useCellAnswers'
import type { ShownReport } from '~/reports/useReportEntry'

/**
 * A cell that is no typed number: answered by the same fields as a case form. Where it is only read, a touch
 * shows what is behind it.
 */
const { entry: report, cell, row } = defineProps<{ entry: ShownReport; cell: string; row: number }>()
const entry = fillingOf(report)
const { contentText } = useCellText()
const { t } = useI18n()
const item = computed(() => report.cellByKey.get(cell)!.item)
const question = computed(() => questionOf(item.value))
const answers = entry && useCellAnswers(entry)
const isComputed = computed(() => item.value.kind === 'computed')
const shown = computed(() => contentText(item.value, report.contentOf(cell)))
</script>

<template>
  <div class="answer" :data-row="row" :data-answer="cell" @focusin="report.enter(cell)">
    <AnswerField
      v-if="answers && (entry?.editable.value || isComputed)"
      :question="question"
      :answer-key="cell"
      :work="answers"
    />
    <div v-else class="read">
      <span :id="`read-${cell}`" class="name">{{ report.nameOf(cell) }}</span>
      <button type="button" class="textual" :aria-describedby="`read-${cell}`" @click="report.enter(cell)">
        {{ shown }}
      </button>
    </div>
    <i
      v-if="report.file.comments[cell]"
      class="pi pi-comment commented"
      :title="t('cell.commented')"
      aria-hidden="true"
    />
  </div>
</template>

<style scoped>
.answer {
  position: relative;
  grid-column: 1 / -1;
  min-width: 0;
  scroll-margin: 90px 0 170px; /* clear of the head and of the fixed foot */
}
/* The line around it has the same, and is laid out with its stretch; names are as those of the numbers. */
.answer :deep(.question) {
  content-visibility: visible;
  padding: 0;
  border-bottom: 0;
}
.answer :deep(.label) {
  font-size: 15px;
  font-weight: 400;
}
.read {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 4px 14px;
  align-items: baseline;
}
.read button {
  justify-self: end;
  text-align: right;
  font-weight: 600;
  color: var(--ink-9);
}
.name {
  font-size: 15px;
}
.commented {
  position: absolute;
  top: 4px;
  right: 0;
  font-size: 12px;
  color: var(--dusk-7);
}
</style>
