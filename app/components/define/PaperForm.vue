<script setup lang="ts">
import type { AnswerQuestion, Form } from '#core/form/question'
import { placesOf } from '#core/define/form-parts'

/** A case form as it is printed: every question in its order, with what to write or tick. */
const { form, below } = defineProps<{ form: Form; below: string }>()
const words = useWords()
const places = computed(() =>
  placesOf(form.parts).filter(({ around }) => around?.kind !== 'table' && around?.kind !== 'repeat'),
)
const ROWS_OF_REPEAT = 5
const answered = (question: AnswerQuestion) => question.kind !== 'computed'
</script>

<template>
  <article class="paper">
    <PaperHead :title="words.say(form.name)" :below="below" />
    <template v-for="{ part, depth } in places" :key="part.code">
      <h2 v-if="part.kind === 'section'" :style="{ marginLeft: `${depth * 10}px` }">
        {{ words.say(part.label) }}
      </h2>
      <p v-else-if="part.kind === 'note'" class="note">{{ words.say(part.label) }}</p>
      <table v-else-if="part.kind === 'table' || part.kind === 'repeat'">
        <caption class="line">
          {{
            words.say(part.label)
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ part.kind === 'repeat' ? '#' : '' }}</th>
            <th
              v-for="column in part.kind === 'table' ? part.columns : part.parts.filter(answered)"
              :key="column.code"
              scope="col"
            >
              {{ words.say(column.label) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in part.kind === 'table'
              ? part.rows.map(one => words.say(one.name))
              : Array.from({ length: Math.min(part.most ?? ROWS_OF_REPEAT, ROWS_OF_REPEAT) }, (_, at) =>
                  String(at + 1),
                )"
            :key="row"
          >
            <th scope="row">{{ row }}</th>
            <td
              v-for="column in part.kind === 'table' ? part.columns : part.parts.filter(answered)"
              :key="column.code"
              class="cell"
            />
          </tr>
        </tbody>
      </table>
      <div v-else-if="answered(part)" class="question" :style="{ marginLeft: `${depth * 10}px` }">
        <span class="line"
          >{{ words.say(part.label) }}<template v-if="part.required">*</template
          ><small v-if="part.definition">{{ words.say(part.definition) }}</small></span
        >
        <PaperAnswer :question="part" />
      </div>
    </template>
  </article>
</template>

<style scoped>
h2 {
  font-size: 15px;
  margin: 12px 0 4px;
  padding: 3px 6px;
  background: #eee;
  print-color-adjust: exact;
  break-after: avoid;
}
.note {
  padding: 4px 6px;
  font-size: 12px;
  font-style: italic;
}
.question {
  display: grid;
  grid-template-columns: 42% 1fr;
  gap: 10px;
  align-items: center;
  padding: 4px 6px;
  border-bottom: 1px solid #999;
  font-size: 12px;
  break-inside: avoid;
}
small {
  display: block;
  font-size: 10px;
  color: #444;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 11px;
  margin: 6px 0;
  break-inside: avoid;
}
caption {
  text-align: left;
  font-weight: 600;
  font-size: 12px;
  padding: 2px 6px;
}
th,
td {
  border: 1px solid #999;
  padding: 2px 5px;
  text-align: left;
  font-weight: 400;
  height: 24px;
}
</style>
