<script setup lang="ts">
import type { WaitingChange } from '~/device/useDeskStore'

/** The answer to a question that is only on this device, or that the district did not take, with the reason. */
const { own } = defineProps<{ own: WaitingChange }>()
const words = useWords()
const { t } = words
</script>

<template>
  <section v-if="own.change.kind === 'answer'" class="card stack" role="status">
    <WordTag :tone="own.state === 'waiting' ? 'amber' : 'brick'">{{
      t(own.state === 'waiting' ? 'cases.waiting' : 'cases.needsYou')
    }}</WordTag>
    <p>{{ own.change.text }}</p>
    <p v-if="own.state === 'needsYou'" role="alert" class="wrong">
      {{ words.problem({ code: own.why ?? 'server', message: '' }) }}
    </p>
  </section>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
