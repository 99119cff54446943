<script setup lang="ts">
import type { ReportEntry } from '~/reports/useReportEntry'

/** How much of the report is answered. A part of its own: it changes at every key, and nothing else need be drawn for it. */
const { entry } = defineProps<{ entry: ReportEntry }>()
const { t } = useI18n()
/** A moment later: the key itself, and what it raises, are painted first. */
const filled = useSoon(() => entry.filled.value)
const share = computed(() => filled.value.answered / (filled.value.applies || 1))
</script>

<template>
  <div
    class="progress"
    role="progressbar"
    :aria-label="t('fill.progress')"
    aria-valuemin="0"
    :aria-valuemax="filled.applies"
    :aria-valuenow="filled.answered"
  >
    <span :style="{ transform: `scaleX(${share})` }" />
  </div>
</template>

<style scoped>
.progress {
  height: 5px;
  background: #3b3450;
}
/* Scaled, not widened: the page is not laid out anew for it. */
.progress span {
  display: block;
  height: 100%;
  background: #eaa234;
  transform-origin: left;
}
</style>
