<script setup lang="ts">
import type { LanternSign } from '#core/report/state'
import type { Tone } from './WordTag.vue'

const { sign } = defineProps<{ sign: LanternSign }>()
const { t } = useI18n()
const TONES: Record<LanternSign, Tone> = {
  awaited: 'plain',
  draft: 'plain',
  sent: 'amber',
  sentBack: 'brick',
  accepted: 'moss',
  overdue: 'broken',
}
</script>

<template>
  <WordTag :tone="TONES[sign]">{{ t(`state.${sign}`) }}</WordTag>
</template>
