<script setup lang="ts">
import type { ApiProblem } from '~/common/useApi'

/** A refusal, in words, at the place where it happened. */
const { problem } = defineProps<{ problem: ApiProblem | null }>()
const words = useWords()
</script>

<template>
  <Message v-if="problem" severity="error" :closable="false" role="alert">{{
    words.problem(problem)
  }}</Message>
</template>
