<script setup lang="ts">
import type { RecountVerdict } from '#core/quality/recount-factor'
import type { Tone } from '~/components/common/WordTag.vue'

/** Recounted over reported, and what that means in a word. */
const { of } = defineProps<{ of: { factor: number | null; verdict: RecountVerdict } }>()
const words = useWords()
const { t } = words
const TONES: Readonly<Record<RecountVerdict, Tone>> = {
  ...{ verified: 'moss', overReported: 'brick', underReported: 'amber', unknown: 'plain' },
}
</script>

<template>
  <span class="factor num">{{ words.number(of.factor, 2) }}</span>
  <WordTag :tone="TONES[of.verdict]">{{ t(`verification.${of.verdict}`) }}</WordTag>
</template>

<style scoped>
.factor {
  display: inline-block;
  min-width: 48px;
}
</style>
