<script setup lang="ts">
import type { AnswerContent, Attachment } from '#core/form/answer'
import type { AnswerQuestion } from '#core/form/question'
import type { Shown, ShownGrid } from '#core/form/shown-answers'

/** Answers as they are read, rows of tables and repeats named, with their pictures and sounds. */
const { shown } = defineProps<{ shown: readonly Shown[] }>()
const words = useWords()
const { textOfAnswer } = useAnswerText()
const fileOf = (question: AnswerQuestion | null, content: AnswerContent): Attachment | null =>
  (question?.kind === 'picture' || question?.kind === 'sound') && content.kind === 'value'
    ? (content.value as Attachment)
    : null
const rowName = ({ name }: ShownGrid['rows'][number]) =>
  typeof name === 'number' ? String(name) : words.say(name)
const cellText = (question: AnswerQuestion, content: AnswerContent | undefined) =>
  textOfAnswer(question, content) || '–'
</script>

<template>
  <div class="answers">
    <template v-for="(one, at) in shown" :key="at">
      <div v-if="one.kind === 'answer'" class="answer">
        <span class="label">{{ one.question ? words.say(one.question.label) : one.code }}</span>
        <AttachmentView
          v-if="fileOf(one.question, one.content)"
          :file="fileOf(one.question, one.content)!"
          :kind="one.question!.kind === 'sound' ? 'sound' : 'picture'"
          :label="words.say(one.question!.label)"
        />
        <span v-else>{{ textOfAnswer(one.question, one.content) }}</span>
      </div>
      <div v-else class="scroll">
        <table>
          <caption>
            {{
              words.say(one.label)
            }}
          </caption>
          <thead>
            <tr>
              <td />
              <th v-for="(column, place) in one.columns" :key="place" scope="col">
                {{ words.say(column.label) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in one.rows" :key="rowName(row)">
              <th scope="row">{{ rowName(row) }}</th>
              <td v-for="(cell, place) in row.cells" :key="place">
                {{ cellText(one.columns[place]!.question, cell) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
.answers {
  display: flex;
  flex-direction: column;
  gap: 6px;
  font-size: 15px;
}
.answer {
  display: grid;
  grid-template-columns: 45% 1fr;
  gap: 8px;
  overflow-wrap: anywhere;
}
.label {
  color: var(--ink-5);
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
caption {
  text-align: left;
  font-weight: 600;
  padding: 4px 0;
}
th,
td {
  padding: 4px 14px 4px 0;
  text-align: left;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
thead th {
  color: var(--ink-5);
  font-weight: 600;
}
tbody th {
  font-weight: 600;
}
</style>
