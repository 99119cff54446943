<script setup lang="ts">
import type { DueReport } from '#core/contract/rounds'
import { lanternSign } from '#core/report/state'
import { clockNow } from '~/common/useClock'

/**
 * A report in the list: its lantern, when it is due, what is missing, and what of it is only on this device.
 */
const { report, waits = null } = defineProps<{ report: DueReport; waits?: 'values' | 'sending' | null }>()
const words = useWords()
const { t } = words
/**
 * What was begun on this device is a draft, whether the district knows it yet or not; what is overdue is so
 * without a network too.
 */
const state = computed(() => (waits && report.state === 'awaited' ? 'draft' : report.state))
const sign = computed(() => lanternSign(state.value, Date.parse(report.round.dueAt), clockNow()))
const below = computed(() => {
  if (waits === 'sending') return t('send.waits')
  const asked = report.questions ? t('due.questions', { count: report.questions }, report.questions) : ''
  if (report.state === 'sentBack') return [t('due.sentBack'), asked].filter(Boolean).join(' · ')
  if (asked) return asked
  if (report.receivedAt && report.state !== 'draft')
    return t('due.received', { at: words.moment(report.receivedAt), state: t(`state.${report.state}`) })
  if (clockNow() >= Date.parse(report.round.closesAt))
    return t('closed.since', { day: words.dueDay(report.round.closesAt) })
  const due = t('round.due', { day: words.dueDay(report.round.dueAt) })
  const filled =
    report.state === 'draft'
      ? t('due.filled', { answered: report.answered, applies: report.applies })
      : t(`state.${sign.value}`)
  return `${filled} · ${due}`
})
</script>

<template>
  <NuxtLink :to="reportLink('report', report.round.id, report.unit.code)" class="due">
    <LanternSign :sign="sign" :size="30" />
    <span class="words"
      ><strong>{{ words.say(report.round.name) }}, {{ words.period(report.round.period) }}</strong
      ><span
        :class="['small', { brick: sign === 'overdue' || report.state === 'sentBack' || report.questions }]"
        >{{ below }}</span
      ></span
    >
    <WordTag v-if="waits" tone="amber">{{ t('cases.waiting') }}</WordTag>
    <i class="pi pi-angle-right" aria-hidden="true" />
  </NuxtLink>
</template>

<style scoped>
.due {
  display: flex;
  align-items: center;
  gap: 14px;
  min-height: 64px;
  padding: 12px 14px;
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 12px;
  color: inherit;
  text-decoration: none;
}
.words {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
}
.small {
  color: var(--ink-5);
}
.brick {
  color: var(--brick-7);
}
</style>
