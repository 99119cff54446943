<script setup lang="ts">
import type { Strength } from '#core/rule/definition'
import type { Tone } from './WordTag.vue'

const { strength } = defineProps<{ strength: Strength }>()
const { t } = useI18n()
const TONES: Record<Strength, Tone> = { mustFix: 'brick', explain: 'amber', note: 'dusk' }
</script>

<template>
  <WordTag :tone="TONES[strength]">{{ t(`strength.${strength}`) }}</WordTag>
</template>
