<script setup lang="ts">
import type { VisitReason } from '#core/visit/why-visit'

/** Why a visit would help, each reason in a few words with its number. */
const { reasons } = defineProps<{ reasons: readonly VisitReason[] }>()
const words = useWords()
const { t } = words
const textOf = ({ why, value, of }: VisitReason) =>
  why === 'effect'
    ? t('visits.why.effect', { share: words.percent(value, 1) })
    : t(`visits.why.${why}`, { count: value, of: of ?? 0 }, value)
</script>

<template>
  <ul class="plain-list reasons">
    <li v-for="one in reasons" :key="one.why">{{ textOf(one) }}</li>
  </ul>
</template>

<style scoped>
.reasons li + li {
  margin-top: 2px;
}
</style>
