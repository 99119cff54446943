<script setup lang="ts">
import type { AnswerQuestion } from '#core/form/question'
import { isTypedNumber } from '#core/report/asked'

/** Where one answer is written or ticked on paper. */
const { question } = defineProps<{ question: AnswerQuestion }>()
const words = useWords()
const { t } = words
/** Few choices are ticked; of a long list the answer is written. */
const TICKED = 12
const choices = computed(() => ('choices' in question ? question.choices : []))
const isNumber = computed(() => isTypedNumber(question.kind))
</script>

<template>
  <span v-if="question.kind === 'yesNo'" class="ticks"
    ><span><i />{{ t('answer.yes') }}</span
    ><span><i />{{ t('answer.no') }}</span></span
  >
  <span v-else-if="choices.length && choices.length <= TICKED" class="ticks"
    ><span v-for="choice in choices" :key="choice.code"><i />{{ words.say(choice.label) }}</span></span
  >
  <span v-else-if="question.kind === 'date' || question.kind === 'partialDate'" class="boxes"
    ><b />/<b />/<b class="year"
  /></span>
  <span v-else-if="isNumber" class="boxes"><b class="year" /></span>
  <span
    v-else-if="question.kind === 'picture' || question.kind === 'sound' || question.kind === 'position'"
    class="small"
    >{{ t('paper.onDevice') }}</span
  >
  <span v-else class="rule" />
</template>

<style scoped>
.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 3px 14px;
}
.ticks i {
  display: inline-block;
  width: 12px;
  height: 12px;
  border: 1px solid #000;
  margin-right: 5px;
  vertical-align: -2px;
}
.boxes {
  display: flex;
  gap: 4px;
  align-items: center;
}
.boxes b {
  width: 34px;
  height: 20px;
  border: 1px solid #000;
}
.boxes .year {
  width: 78px;
}
.rule {
  display: block;
  min-width: 120px;
  border-bottom: 1px solid #000;
  height: 20px;
}
</style>
