<script setup lang="ts">
import type { JobKind, JobLine } from '#core/contract/jobs'

/** How far a job is, or how it ended: its state, and in a sentence what came of it. */
const { job } = defineProps<{ job: JobLine }>()
const words = useWords()
const { t } = words
/** The number that each kind's sentence counts. */
const COUNTED: Readonly<Partial<Record<JobKind, string>>> = {
  openRounds: 'rounds',
  judgeAgain: 'judged',
  effects: 'districts',
  foldCases: 'cases',
  newDay: 'cases',
  sendNudges: 'handled',
  sendOn: 'delivered',
  importReports: 'reports',
  makeExtracts: 'files',
  writeExtracts: 'files',
  tidy: 'removed',
  verify: 'differences',
}
const TONES = { waiting: 'plain', running: 'amber', done: 'moss', stopped: 'plain', failed: 'brick' } as const
const state = computed(() => (job.stopping ? 'stopping' : job.state))
const share = computed(() => (job.total ? Math.round((100 * job.done) / job.total) : null))
const result = computed(() => {
  const counted = COUNTED[job.kind]
  if (!job.result || !counted) return ''
  const count = job.result.numbers[counted] ?? 0
  return t(`jobs.result.${job.kind}`, { count }, count)
})
const failed = computed(() => job.result?.numbers.failed ?? 0)
</script>

<template>
  <WordTag :tone="TONES[job.state]">{{ t(`jobs.state.${state}`) }}</WordTag>
  <template v-if="job.state === 'running'">
    <ProgressBar
      v-if="share !== null"
      class="bar"
      :value="share"
      :aria-label="t('jobs.progress', { kind: t(`jobs.kind.${job.kind}`) })"
    />
    <p v-if="job.total !== null" class="small quiet">
      {{ t('jobs.far', { done: words.number(job.done), total: words.number(job.total) }) }}
    </p>
  </template>
  <p v-if="result" class="small">{{ result }}</p>
  <p v-if="failed" class="small bad">{{ t('jobs.notJudged', { count: failed }, failed) }}</p>
  <p v-if="job.problem && job.state !== 'done'" class="small bad">
    {{ job.problem === 'died' ? t('jobs.died') : job.problem }}
    <template v-if="job.state === 'waiting'">{{ t('jobs.again') }}</template>
  </p>
  <p v-if="job.kind === 'backup' && job.result" class="small path">{{ job.result.details[0] }}</p>
  <details v-else-if="job.result?.details.length" class="small">
    <summary>
      {{ t('jobs.details', { count: job.result.details.length }, job.result.details.length) }}
    </summary>
    <ul>
      <li v-for="line in job.result.details" :key="line">{{ line }}</li>
    </ul>
  </details>
</template>

<style scoped>
.bar {
  height: 14px;
  max-width: 220px;
  margin: 6px 0 2px;
}
.bad {
  color: var(--brick-7);
}
.path {
  overflow-wrap: anywhere;
}
</style>
