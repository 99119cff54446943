<script setup lang="ts">
import type { Correction, DiscrepancyLine } from '#core/contract/discrepancies'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import { useQuestionAnswer } from '~/device/useQuestionAnswer'

/** The answer to a question of the district: what waits or was not taken, the form, or how the question ended. */
const { line, corrections = [] } = defineProps<{
  line: Pick<DiscrepancyLine, 'id' | 'state' | 'outcome'>
  /** Values that are corrected with the answer; null while one of them cannot be. */
  corrections?: readonly Correction[] | null
}>()
defineSlots<{ /** Where values are corrected. */ default?: () => unknown }>()
const { t } = useI18n()
const { own, text, busy, answer } = useQuestionAnswer(() => line.id)
const isReady = computed(() => text.value.trim().length > 1 && corrections !== null)
</script>

<template>
  <OwnAnswer v-if="own.data.value" :own="own.data.value" />
  <p v-if="line.state === 'settled'" class="card">
    <WordTag tone="moss">{{ t(`outcome.${line.outcome}`) }}</WordTag>
  </p>
  <form
    v-else-if="own.data.value?.state !== 'waiting'"
    class="card stack"
    @submit.prevent="answer(corrections ?? [])"
  >
    <slot />
    <label for="answer-text">{{ t('questions.answer') }}</label>
    <Textarea id="answer-text" v-model="text" rows="3" :maxlength="LONGEST_SENTENCE" fluid />
    <Button
      type="submit"
      class="go"
      :label="t(corrections?.length ? 'questions.sendCorrected' : 'questions.send')"
      :disabled="!isReady"
      :loading="busy"
    />
  </form>
</template>

<style scoped>
.go {
  min-height: 48px;
}
</style>
