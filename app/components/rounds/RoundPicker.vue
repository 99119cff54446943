<script setup lang="ts">
import type { RoundRef } from '#core/contract/shared'

/** A round with its neighbours, one key each: `[` back, `]` on. */
const { round, before, after } = defineProps<{ round: RoundRef; before: string | null; after: string | null }>()
const emit = defineEmits<{ go: [round: string] }>()
const words = useWords()
const { t } = words
useKeys([
  { key: '[', says: 'keys.roundBack', run: () => { if (before) emit('go', before) } },
  { key: ']', says: 'keys.roundOn', run: () => { if (after) emit('go', after) } },
])
const due = computed(() => {
  const days = words.daysSince(round.dueAt)
  const ago = days > 0 ? t('round.daysAgo', { days }, days) : days === 0 ? t('round.today') : t('round.inDays', { days: -days }, -days)
  return `${t('round.due', { day: words.dueDay(round.dueAt) })} · ${ago}`
})
</script>

<template>
  <div class="picker">
    <Button icon="pi pi-angle-left" text size="small" :disabled="!before" :aria-label="t('round.back')" @click="before && emit('go', before)" />
    <strong>{{ words.period(round.period) }}</strong>
    <Button icon="pi pi-angle-right" text size="small" :disabled="!after" :aria-label="t('round.on')" @click="after && emit('go', after)" />
  </div>
  <span class="quiet small">{{ due }}</span>
</template>

<style scoped>
.picker { display: flex; align-items: center; gap: 6px; background: var(--card); border: 1px solid var(--line); border-radius: 8px; }
</style>
