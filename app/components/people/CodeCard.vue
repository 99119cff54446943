<script setup lang="ts">
/** A one-time code, shown this once: to be said or handed over, never mailed. */
const { made } = defineProps<{ made: { userName: string; code: string; until: string } }>()
const emit = defineEmits<{ close: [] }>()
const words = useWords()
const { t } = words
</script>

<template>
  <section class="card stack code" role="status">
    <h2>{{ t('people.codeFor', { name: made.userName }) }}</h2>
    <p class="figure">{{ made.code }}</p>
    <p>{{ t('people.codeHint', { until: words.day(made.until) }) }}</p>
    <div>
      <Button
        size="small"
        severity="secondary"
        outlined
        :label="t('people.codeSeen')"
        @click="emit('close')"
      />
    </div>
  </section>
</template>

<style scoped>
.code {
  border-left: 4px solid var(--amber-5);
}
.figure {
  letter-spacing: 0.06em;
  user-select: all;
}
</style>
