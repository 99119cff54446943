<script setup lang="ts">
import type { DueReport } from '#core/contract/rounds'

const { report } = defineProps<{ report: DueReport }>()
const words = useWords()
const { t } = words
const below = computed(() => {
  if (report.questions) return t('due.questions', { count: report.questions }, report.questions)
  if (report.state === 'sentBack') return t('due.sentBack')
  if (report.receivedAt && report.state !== 'draft') return t('due.received', { at: words.moment(report.receivedAt), state: t(`state.${report.state}`) })
  const due = t('round.due', { day: words.dueDay(report.round.dueAt) })
  const filled = report.state === 'draft' ? t('due.filled', { answered: report.answered, applies: report.applies }) : t(`state.${report.sign}`)
  return `${filled} · ${due}`
})
</script>

<template>
  <NuxtLink :to="`/desk/report/${report.round.id}`" class="due">
    <LanternSign :sign="report.sign" :size="30" />
    <span class="words"><strong>{{ words.say(report.round.name) }}, {{ words.period(report.round.period) }}</strong><span :class="['small', { brick: report.sign === 'overdue' || report.state === 'sentBack' || report.questions }]">{{ below }}</span></span>
    <i class="pi pi-angle-right" aria-hidden="true" />
  </NuxtLink>
</template>

<style scoped>
.due { display: flex; align-items: center; gap: 14px; min-height: 64px; padding: 12px 14px; background: var(--card); border: 1px solid var(--line); border-radius: 12px; color: inherit; text-decoration: none; }
.words { flex: 1; display: flex; flex-direction: column; gap: 2px; min-width: 0; }
.small { color: var(--ink-5); }
.brick { color: var(--brick-7); }
</style>
