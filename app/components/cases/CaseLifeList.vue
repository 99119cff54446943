<script setup lang="ts">
import type { CaseLifeEvent } from '#core/contract/case-life'

/** What became of a case besides its entries: where it went, when it was closed, what it was merged with. */
const { events } = defineProps<{ events: readonly CaseLifeEvent[] }>()
const words = useWords()
const { t } = words
const sentence = ({ act, from, to, day, outcome, isByForm }: CaseLifeEvent): string => {
  const on = day === null ? '' : words.plainDay(day)
  if (act === 'moved')
    return t(day === null ? 'caseLife.said.movedAlways' : 'caseLife.said.moved', {
      from: from?.name ?? '',
      to: to?.name ?? '',
      day: on,
    })
  if (act === 'closed')
    return t('caseLife.said.closed', { day: on, outcome: t(`caseLife.outcome.${outcome ?? 'other'}`) })
  return t(isByForm ? 'caseLife.said.reopenedByForm' : `caseLife.said.${act}`)
}
</script>

<template>
  <ul class="plain-list stack">
    <li v-for="(event, at) in events" :key="at">
      {{ sentence(event) }}
      <q v-if="event.text">{{ event.text }}</q>
      <span class="small quiet">{{
        [event.by, event.device, words.moment(event.at)].filter(Boolean).join(' · ')
      }}</span>
    </li>
  </ul>
</template>

<style scoped>
.small {
  display: block;
}
</style>
