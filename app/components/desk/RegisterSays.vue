<script setup lang="ts">
import type { RegisterCount } from '~/reports/useRegisterCounts'

/** Where the register of this device says something else than the report: one touch takes its count. */
const { counts, editable } = defineProps<{ counts: readonly RegisterCount[]; editable: boolean }>()
const emit = defineEmits<{ use: [cell: string, count: number] }>()
const words = useWords()
const { t } = words
</script>

<template>
  <div v-if="counts.length" class="says" role="status">
    <div v-for="{ count, registered } in counts" :key="count.code" class="spread">
      <span>{{
        words.pair(words.say(count.name), t('caseCounts.registerSays', { count: words.number(registered) }))
      }}</span>
      <Button
        v-if="count.cells.length === 1"
        size="small"
        severity="secondary"
        outlined
        :disabled="!editable"
        :label="t('caseCounts.useIt')"
        :aria-label="`${t('caseCounts.useIt')}: ${words.say(count.name)}`"
        @click="emit('use', count.cells[0]!, registered)"
      />
    </div>
  </div>
</template>

<style scoped>
.says {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 10px 16px;
  background: var(--amber-0);
  border-bottom: 1px solid var(--line);
}
.says :deep(button) {
  min-height: 44px;
}
</style>
