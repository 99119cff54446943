<script setup lang="ts">
import { printDay } from '#core/calendar/day'

/** One case in a list: the line that its form defines, what it still needs, and where it has got to. */
const { one, name, titleOf } = defineProps<{
  one: DeskCase
  name: string
  titleOf: (one: DeskCase) => string
}>()
const words = useWords()
const { t } = words
const worst = computed(
  () =>
    one.entries.find(({ state }) => state === 'refused') ??
    one.entries.find(({ state }) => state === 'waiting') ??
    one.entries.at(-1)!,
)
const today = words.today()
const needs = computed(() => [
  ...(one.isElsewhere ? [t('caseLife.state.gone')] : []),
  ...(one.life.closed ? [t('caseLife.state.closed')] : []),
  ...(one.file.entries.some(({ rivals }) => rivals.length) ? [t('cases.rivalShort')] : []),
  ...(one.follow.nextVisit !== null
    ? [
        t(one.follow.nextVisit <= today ? 'cases.visitDue' : 'cases.visitOn', {
          day: words.plainDay(printDay(one.follow.nextVisit)),
        }),
      ]
    : []),
  ...(one.follow.resultAwaited ? [t('cases.resultAwaited')] : []),
])
</script>

<template>
  <NuxtLink :to="`/desk/cases/${one.id}`" class="case" :prefetch="false">
    <span class="spread"
      ><strong>{{ titleOf(one) }}</strong
      ><EntryState :entry="worst"
    /></span>
    <span class="small quiet">{{
      one.line
        .slice(2)
        .filter(part => part.text)
        .map(part => `${part.label} ${part.text}`)
        .join(' · ')
    }}</span>
    <span v-if="needs.length" class="small needs">{{ needs.join(' · ') }}</span>
    <span class="small quiet"
      >{{ name }} ·
      {{ t('cases.entries', { count: one.file.entries.length }, one.file.entries.length) }}</span
    >
  </NuxtLink>
</template>

<style scoped>
.case {
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 12px 14px;
  border: 1px solid var(--line);
  border-radius: 12px;
  background: var(--card);
  color: inherit;
  text-decoration: none;
}
.needs {
  color: var(--amber-7);
  font-weight: 600;
}
</style>
