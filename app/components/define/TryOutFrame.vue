<script setup lang="ts">
import type { ApiProblem } from '~/common/useApi'

/** Trying a rule on what is there: begun, watched and stopped; what it found stands in the slot. */
const { state, share, act, problem, sound } = defineProps<{
  state: 'idle' | 'reading' | 'judging' | 'done' | 'stopped'
  /** How much is done, from 0 to 1. */
  share: number
  /** What begins it. */
  act: string
  problem: ApiProblem | null
  /** Can the rule be tried? */
  sound: boolean
}>()
const emit = defineEmits<{ start: []; stop: [] }>()
defineSlots<{
  /** What must be known before it is tried. */ note?: () => unknown
  default: () => unknown
}>()
const { t } = useI18n()
const isRunning = computed(() => state === 'reading' || state === 'judging')
</script>

<template>
  <section class="card stack" :aria-label="t('tryOut.title')">
    <div class="spread">
      <h2>{{ t('tryOut.title') }}</h2>
      <Button
        v-if="isRunning"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-stop"
        :label="t('tryOut.stop')"
        @click="emit('stop')"
      />
      <Button
        v-else
        size="small"
        icon="pi pi-history"
        :label="act"
        :disabled="!sound"
        @click="emit('start')"
      />
    </div>
    <ProgressBar
      v-if="isRunning"
      :value="Math.round(share * 100)"
      :mode="state === 'reading' ? 'indeterminate' : 'determinate'"
      :aria-label="t('tryOut.under')"
    />
    <ProblemNote :problem="problem" />
    <slot name="note" />
    <p v-if="!sound" class="quiet">{{ t('tryOut.notSound') }}</p>
    <p v-else-if="state === 'stopped'" class="quiet">{{ t('tryOut.stopped') }}</p>
    <p v-else-if="state === 'idle' && !problem" class="quiet">{{ t('tryOut.hint') }}</p>
    <slot />
  </section>
</template>
