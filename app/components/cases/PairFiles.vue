<script setup lang="ts">
import { entryOfKept, foldCase } from '#core/cases/fold'
import { listQuestions } from '#core/cases/list-questions'
import type { CaseFileView } from '#core/contract/cases'
import type { PairFile } from '#core/contract/case-pairs'
import { compareAnswers } from '#core/matching/differing'

/** Two cases beside each other, answer by answer: what differs stands out in words and weight. */
const { file } = defineProps<{ file: PairFile }>()
const words = useWords()
const { t } = words
const { textOf, lineOf, titleOf } = useAnswerText()
const answersOf = (view: CaseFileView | null) =>
  view
    ? Object.fromEntries(
        [...foldCase(view.id, view.entries.map(entryOfKept)).values].map(([code, { content }]) => [
          code,
          content,
        ]),
      )
    : {}
const definition = computed(() => (file.one ?? file.other)!.definition)
const rows = computed(() => {
  const questions = listQuestions(definition.value)
  return compareAnswers(questions.keys(), answersOf(file.one), answersOf(file.other)).map(row => ({
    ...row,
    label: words.say(questions.get(row.code)!.question.label),
  }))
})
const sides = computed(() => [
  { side: file.line.one, view: file.one },
  { side: file.line.other, view: file.other },
])
const isHidden = (view: CaseFileView | null) => view === null
</script>

<template>
  <table class="pair">
    <thead>
      <tr>
        <td />
        <th v-for="{ side, view } in sides" :key="side.id" scope="col">
          <NuxtLink v-if="view" :to="`/cases/${side.id}`">{{
            titleOf(lineOf(definition, code => side.line?.answers[code]))
          }}</NuxtLink>
          <template v-else>{{ t('pairs.inOther', { unit: side.unit.name }) }}</template>
          <p class="small quiet">
            <template v-if="view"
              >{{ side.unit.name }} ·
              {{ t('cases.entries', { count: view.entries.length }, view.entries.length) }}</template
            >
            <template v-else>{{ t('pairs.hidden') }}</template>
          </p>
        </th>
        <td />
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.code" :class="row.verdict">
        <th scope="row">{{ row.label }}</th>
        <td>{{ isHidden(file.one) ? '' : textOf(definition, row.code, row.one ?? undefined) || '–' }}</td>
        <td>{{ isHidden(file.other) ? '' : textOf(definition, row.code, row.other ?? undefined) || '–' }}</td>
        <td>
          <WordTag v-if="row.verdict === 'differs'" tone="amber">{{ t('pairs.differs') }}</WordTag>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.pair {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
  overflow-wrap: anywhere;
}
tbody th {
  font-weight: 400;
  color: var(--ink-5);
  width: 26%;
}
.differs td {
  font-weight: 600;
}
.differs {
  background: var(--amber-0);
}
p {
  margin: 0;
  font-weight: 400;
}
</style>
