<script setup lang="ts">
import type { FileNotes, FileRefusal } from '#core/contract/report-files'

/** What was refused of a file: where, and why. */
const { notes } = defineProps<{ notes: FileNotes }>()
const words = useWords()
const { t } = words
const rows = computed(() => notes.refused.map((one, at) => ({ ...one, at })))
const placeOf = ({ sheet, row, column }: FileRefusal) => `${sheet}, ${column}${row}`
</script>

<template>
  <div>
    <h3>{{ t('files.refused', { count: notes.refusedCount }, notes.refusedCount) }}</h3>
    <DataTable
      :value="rows"
      data-key="at"
      scrollable
      scroll-height="260px"
      :table-props="{ 'aria-label': t('files.refused', { count: notes.refusedCount }, notes.refusedCount) }"
    >
      <Column :header="t('files.place')"
        ><template #body="{ data: one }">{{ placeOf(one) }}</template></Column
      >
      <Column :header="t('files.heading')" field="heading" />
      <Column :header="t('files.reason')"
        ><template #body="{ data: one }">{{ words.problem(one) }}</template></Column
      >
    </DataTable>
    <p v-if="notes.refusedCount > rows.length" class="small quiet">
      {{ t('files.moreRefused', { count: notes.refusedCount - rows.length }) }}
    </p>
  </div>
</template>
