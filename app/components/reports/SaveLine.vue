<script setup lang="ts">
import type { ReportEntry } from '~/reports/useReportEntry'

/** Where what was typed has got to: on this device, or with the district. */
const { entry } = defineProps<{ entry: ReportEntry }>()
const words = useWords()
const { t } = words
const text = computed(() => {
  const { state, at } = entry.outbox
  if (state.value === 'idle') return t('saving.idle')
  return t(`saving.${state.value}`, { time: words.time(at.value) })
})
</script>

<template>
  <span class="save-state" role="status" :data-state="entry.outbox.state.value">{{ text }}</span>
</template>

<style scoped>
.save-state {
  font-size: 14px;
  color: var(--ink-5);
}
</style>
