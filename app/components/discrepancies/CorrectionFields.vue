<script setup lang="ts">
import type { DiscrepancyFile } from '#core/contract/discrepancies'
import type { AnswerValue } from '#core/form/answer'
import { checkCell, readItem } from '#core/form/check-cell'
import { questionOf } from '#core/form/form-of-edition'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { numberKind, type Item } from '#core/report/edition'
import { completeItem } from '#core/report/older'
import { good, type Result } from '#core/result'

export interface CorrectionDraft {
  cell: string
  base: number
  content: CellContent
  /** What came from other devices against the value, and is decided with it. */
  settles?: string[]
}

/**
 * The doubted values, each with a field for the right one. Emits only those that differ; null while one
 * cannot be read. What is computed cannot be corrected by itself.
 */
const { cells, items } = defineProps<{
  cells: DiscrepancyFile['cells']
  items: DiscrepancyFile['items']
}>()
const model = defineModel<CorrectionDraft[] | null>({ required: true })
const words = useWords()
const { t, locale } = words
const { contentText } = useCellText()
/** A device may have the discrepancy from an earlier version, which named the item elsewhere. */
const itemOf = (cell: DiscrepancyFile['cells'][number]): Item =>
  completeItem(cell.item ?? items[cell.cell.split('.')[0]!]!.item)
const shownText = (content: CellContent) =>
  content.kind === 'value' && typeof content.value === 'number' ? words.typed(content.value) : ''
const texts = reactive<Record<string, string>>({})
const answers = reactive<Record<string, Result<CellContent>>>({})
for (const { cell, content } of cells) {
  texts[cell] = shownText(content)
  answers[cell] = good(content)
}
const reads = computed(() =>
  cells
    .map(cell => ({ ...cell, item: itemOf(cell), question: questionOf(itemOf(cell)) }))
    .filter(({ item }) => item.kind !== 'computed')
    .map(one => ({
      ...one,
      isNumber: numberKind(one.item) !== null,
      read:
        numberKind(one.item) === null
          ? answers[one.cell]!
          : readItem(one.item, texts[one.cell] ?? '', locale.value),
    })),
)
type Line = (typeof reads.value)[number]
const valueOf = ({ read }: Line): AnswerValue | null =>
  read.ok && read.value.kind === 'value' ? read.value.value : null
function give({ cell, item }: Line, value: AnswerValue | null) {
  answers[cell] = value === null ? good(BLANK) : checkCell(item, value)
}
/** A number that was never touched keeps what it is, also where it is *not known*. */
const isChanged = ({ isNumber, content }: Line, now: CellContent) =>
  isNumber ? shownText(now) !== shownText(content) : !sameContent(now, content)
watch(
  reads,
  now => {
    model.value = now.every(({ read }) => read.ok)
      ? now.flatMap(line =>
          line.read.ok && isChanged(line, line.read.value)
            ? [
                {
                  cell: line.cell,
                  base: line.version,
                  content: line.read.value,
                  ...(line.conflicts.length && { settles: line.conflicts.map(({ id }) => id) }),
                },
              ]
            : [],
        )
      : null
  },
  { immediate: true },
)
const isChosen = ({ question }: Line) =>
  question.kind === 'yesNo' || question.kind === 'oneOf' || question.kind === 'severalOf'
</script>

<template>
  <div class="fields">
    <div v-for="line in reads" :key="line.cell" :class="['field', { answer: !line.isNumber }]">
      <label :id="`right-${line.cell}-label`" :for="`right-${line.cell}`">{{ words.say(line.name) }}</label>
      <InputText
        v-if="line.isNumber"
        :id="`right-${line.cell}`"
        v-model="texts[line.cell]"
        :inputmode="line.item.kind === 'decimal' ? 'decimal' : 'numeric'"
        :invalid="!line.read.ok"
        :aria-describedby="line.read.ok ? undefined : `wrong-${line.cell}`"
      />
      <ChoiceAnswer
        v-else-if="isChosen(line)"
        :question="line.question as never"
        :input-id="`right-${line.cell}`"
        :value="valueOf(line)"
        :choices="line.item.choices ?? []"
        @give="give(line, $event)"
      />
      <TypedAnswer
        v-else
        :question="line.question"
        :input-id="`right-${line.cell}`"
        :value="valueOf(line)"
        @give="give(line, $event)"
      />
      <small v-for="one in line.conflicts" :key="one.id" class="wrong">
        {{
          t('cell.otherDevice', {
            device: one.device ?? one.by,
            value: contentText(line.item, one.content),
          })
        }}
      </small>
      <small v-if="!line.read.ok" :id="`wrong-${line.cell}`" class="wrong">{{
        words.problem(line.read.problems[0]!)
      }}</small>
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px;
  align-items: center;
  gap: 4px 10px;
}
.field :deep(input) {
  text-align: right;
}
.field.answer {
  grid-template-columns: minmax(0, 1fr);
}
.field.answer :deep(input) {
  text-align: left;
}
.wrong {
  grid-column: 1 / -1;
  color: var(--brick-7);
}
</style>
