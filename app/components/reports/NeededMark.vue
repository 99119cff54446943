<script setup lang="ts">
import type { ShownReport } from '~/reports/useReportEntry'

/** That a number is needed. A part of its own: what is doubtful elsewhere does not draw the whole section anew. */
const { entry, cell } = defineProps<{ entry: ShownReport; cell: string }>()
const { t } = useI18n()
</script>

<template>
  <span v-if="entry.isNeeded(cell)" class="needed">{{ t('filling.required') }}</span>
</template>

<style scoped>
.needed {
  margin-left: 6px;
  font-size: 12px;
  font-weight: 600;
  color: var(--amber-7);
}
</style>
