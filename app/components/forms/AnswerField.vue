<script setup lang="ts">
import { fold } from '#core/form/code'
import type { AnswerQuestion } from '#core/form/question'
import type { AnswerValue } from '#core/form/answer'
import type { AnswerWork, FillingWork } from '~/cases/useFilling'

/**
 * One question: a field for its kind of answer, *not known* with a reason, its definition, and its problems.
 */
const {
  question,
  answerKey,
  work,
  compact = false,
} = defineProps<{ question: AnswerQuestion; answerKey: string; work: AnswerWork; compact?: boolean }>()
/** A place is only asked for in a form, which knows the answers that narrow it. */
const formWork = computed(() => work as FillingWork)
const words = useWords()
const { t } = words
const id = computed(() => `a-${answerKey.replaceAll(/[^a-z0-9]/g, '-')}`)
const content = computed(() => work.contentOf(answerKey))
const value = computed(() => (content.value?.kind === 'value' ? content.value.value : null))
/** Only whether there is an answer, so that the field is not drawn anew for what the answer is. */
const kind = computed(() => content.value?.kind)
const reasonGiven = computed(() => (content.value?.kind === 'notKnown' ? content.value.reason : ''))
/** Answered without a value. */
const isGivenUp = computed(() => kind.value === 'notKnown' || kind.value === 'notOffered')
const required = computed(() => work.isMissing(answerKey))
const says = computed(() => [
  ...(work.problems[answerKey] ? [words.problem(work.problems[answerKey])] : []),
  ...work.refusals(answerKey).map(words.say),
])
const give = (next: AnswerValue | null) => work.answer(question, answerKey, next)
const placeOf = (of: AnswerValue | null) => (typeof of === 'string' ? of : null)
const asking = ref(false)
const reason = ref('')
const REASONS = ['registerMissing', 'personAway', 'notRecorded'] as const
function notKnown(why: string) {
  if (!why.trim()) return
  work.notKnown(answerKey, why.trim())
  asking.value = false
  reason.value = ''
}
/** The unit of measure, unless the label says it already: no *Doses (doses)*. */
const unit = computed(() => {
  const of = 'unitOfMeasure' in question ? question.unitOfMeasure : undefined
  // Its own word and the reader's: a French label says *années* where the form says *years*.
  const label = fold(words.say(question.label))
  return of && !label.includes(fold(of)) && !label.includes(fold(words.usual(of)))
    ? words.usual(of)
    : undefined
})
</script>

<template>
  <!-- A form for each field: docs/decisions/0066. -->
  <form
    :class="['question', { compact, wrong: says.length, missing: required }]"
    :data-question="answerKey"
    @submit.prevent
  >
    <div class="asked">
      <span :id="`${id}-label`" class="label"
        >{{ words.say(question.label) || question.code
        }}<span v-if="unit" class="quiet small"> ({{ unit }})</span
        ><span v-if="required" class="required">{{ t('filling.required') }}</span></span
      >
      <details v-if="question.definition && words.say(question.definition)">
        <summary :aria-label="t('filling.about', { name: words.say(question.label) })">
          <i class="pi pi-info-circle" aria-hidden="true" />
        </summary>
        <p class="small">{{ words.say(question.definition) }}</p>
      </details>
    </div>
    <!-- First, so that nothing else of an answer that is computed is looked at: its own part draws it. -->
    <ComputedAnswer
      v-if="question.kind === 'computed'"
      :answer-key="answerKey"
      :work="work"
      :aria-labelledby="`${id}-label`"
    />
    <p v-else-if="kind === 'notKnown'" class="given">
      {{ words.pair(t('cell.notKnown'), reasonGiven) }}
      <button type="button" class="textual" @click="give(null)">{{ t('filling.change') }}</button>
    </p>
    <p v-else-if="kind === 'notOffered'" class="given">
      {{ t('cell.notOffered') }}
      <button type="button" class="textual" @click="give(null)">{{ t('filling.change') }}</button>
    </p>
    <ChoiceAnswer
      v-else-if="question.kind === 'yesNo' || question.kind === 'oneOf' || question.kind === 'severalOf'"
      :question="question"
      :input-id="id"
      :value="value"
      :choices="work.choices(answerKey)"
      @give="give"
    />
    <UnitAnswer
      v-else-if="question.kind === 'unit'"
      :question="question"
      :input-id="id"
      :value="placeOf(value)"
      :work="formWork"
      :answer-key="answerKey"
      @give="give"
    />
    <FileAnswer
      v-else-if="question.kind === 'picture' || question.kind === 'sound'"
      :kind="question.kind"
      :input-id="id"
      :value="value"
      :as-taken="question.kind === 'picture' && question.asTaken"
      :most="question.mostBytes"
      @give="give"
    />
    <TypedAnswer v-else :question="question" :input-id="id" :value="value" @give="give" />
    <div v-if="question.kind !== 'computed' && !isGivenUp" class="unknown">
      <button v-if="!asking" type="button" class="textual small" @click="asking = true">
        {{ t('cell.notKnown') }}
      </button>
      <div v-else class="row">
        <Button
          v-for="one in REASONS"
          :key="one"
          size="small"
          severity="secondary"
          outlined
          :label="t(`reason.${one}`)"
          @click="notKnown(t(`reason.${one}`))"
        />
        <InputText
          v-model="reason"
          size="small"
          :aria-label="t('cell.whyNotKnown')"
          :placeholder="t('cell.inWords')"
          maxlength="300"
          @keydown.enter.prevent="notKnown(reason)"
        />
        <button type="button" class="textual small" @click="asking = false">{{ t('act.cancel') }}</button>
      </div>
    </div>
    <p v-for="one in says" :key="one" class="says" role="alert">{{ one }}</p>
  </form>
</template>

<style scoped>
/* A long form lays out only what is on the screen. */
.question {
  content-visibility: auto;
  contain-intrinsic-size: auto 96px;
  display: flex;
  flex-direction: column;
  gap: 5px;
  padding: 9px 16px;
  border-bottom: 1px solid var(--line);
}
.question.compact {
  padding: 6px 12px;
  border-bottom: 0;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: baseline;
}
.asked details {
  flex: none;
  max-width: 100%;
}
.asked summary {
  list-style: none;
  cursor: pointer;
  color: var(--dusk-7);
}
.label {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.required {
  margin-left: 6px;
  font-size: 12px;
  font-weight: 600;
  color: var(--amber-7);
}
.says {
  color: var(--brick-7);
  font-size: 14px;
}
.wrong {
  background: var(--brick-0);
}
.given {
  font-style: italic;
}
.unknown {
  align-self: flex-start;
  color: var(--ink-5);
}
</style>
