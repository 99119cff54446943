<script setup lang="ts">
import type { AnswerWork } from '~/cases/useFilling'

/** What is computed from other answers. A part of its own: at a key in one of them only this is drawn anew. */
const { answerKey, work } = defineProps<{ answerKey: string; work: AnswerWork }>()
const words = useWords()
const { t } = words
const shown = computed(() => {
  const content = work.contentOf(answerKey)
  const value = content?.kind === 'value' ? content.value : null
  if (typeof value === 'number' || typeof value === 'string') return words.value(value, 2)
  return typeof value === 'boolean' ? t(value ? 'answer.yes' : 'answer.no') : '–'
})
</script>

<template>
  <output class="computed">{{ shown }}</output>
</template>

<style scoped>
.computed {
  font: 500 17px var(--body);
}
</style>
