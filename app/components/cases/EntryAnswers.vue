<script setup lang="ts">
import type { Answers } from '#core/form/answer'
import type { Form } from '#core/form/question'
import { shownAnswers } from '#core/form/shown-answers'

/** The answers of one entry in the order of its form. */
const { form, answers } = defineProps<{
  /** In the edition in which it was filled. */ form: Form
  answers: Answers
}>()
const shown = computed(() => shownAnswers(form, answers))
</script>

<template>
  <ShownAnswers :shown="shown" />
</template>
