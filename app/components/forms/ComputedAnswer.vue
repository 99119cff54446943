<script setup lang="ts">
import type { AnswerWork } from '~/cases/useFilling'

/**
 * What is computed from other answers. A part of its own: after a key in one of them only this is drawn anew, and
 * a moment later, since a form may have many of them: the key itself, and what it raises, are painted first.
 */
const { answerKey, work } = defineProps<{ answerKey: string; work: AnswerWork }>()
const words = useWords()
const { t } = words
const content = useSoon(() => work.contentOf(answerKey))
const shown = computed(() => {
  const value = content.value?.kind === 'value' ? content.value.value : null
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
