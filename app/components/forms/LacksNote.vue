<script setup lang="ts">
import type { CompiledForm } from '#core/form/compile-form'

/** What a form still lacks, or has refused, each with the way to it. */
const { lacks, compiled } = defineProps<{
  /** Keys of cells. */
  lacks: readonly string[]
  compiled: CompiledForm
}>()
const emit = defineEmits<{ jump: [question: string] }>()
const words = useWords()
const { t } = words
const nameOf = (key: string) =>
  words.say(
    compiled.outline.placed.find(({ question }) => question.code === key.split('/').at(-1)!.split('.')[0])
      ?.question.label ?? { en: key },
  )
</script>

<template>
  <div class="note" role="alert">
    <p>
      <strong>{{ t('cases.lacks', { count: lacks.length }, lacks.length) }}</strong>
    </p>
    <ul>
      <li v-for="key in lacks" :key="key">
        <button type="button" class="textual" @click="emit('jump', key)">{{ nameOf(key) }}</button>
      </li>
    </ul>
    <p class="small">{{ t('question.requiredHint') }}</p>
  </div>
</template>

<style scoped>
.note {
  padding: 12px 16px;
  background: var(--amber-1);
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
