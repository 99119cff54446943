<script setup lang="ts">
import type { JobLine } from '#core/contract/jobs'

/** Jobs, the newest first: who asked, how far each is or how it ended, and stopping one. */
const { lines, busy } = defineProps<{ lines: JobLine[]; busy: boolean }>()
const emit = defineEmits<{ stop: [job: JobLine] }>()
const words = useWords()
const { t } = words
const canStop = (job: JobLine) => !job.stopping && ['waiting', 'running'].includes(job.state)
const seconds = ({ startedAt, endedAt }: JobLine): number | null =>
  startedAt && endedAt ? (Date.parse(endedAt) - Date.parse(startedAt)) / 1000 : null
</script>

<template>
  <DataTable :value="lines" data-key="id">
    <Column :header="t('jobs.job')"
      ><template #body="{ data: one }"
        ><strong>{{ t(`jobs.kind.${one.kind}`) }}</strong>
        <p v-if="one.tries > 1" class="small quiet">{{ t('jobs.tries', { count: one.tries }) }}</p></template
      ></Column
    >
    <Column :header="t('jobs.asked')"
      ><template #body="{ data: one }"
        >{{ words.moment(one.askedAt) }}
        <p class="small quiet">{{ one.askedBy ?? t('jobs.bySelf') }}</p></template
      ></Column
    >
    <Column :header="t('jobs.how')"
      ><template #body="{ data: one }"><JobSays :job="one" /></template
    ></Column>
    <Column :header="t('jobs.took')"
      ><template #body="{ data: one }"
        ><template v-if="seconds(one) !== null">{{
          t('jobs.seconds', { seconds: words.number(seconds(one), 1) })
        }}</template></template
      ></Column
    >
    <Column :header="t('people.acts')"
      ><template #body="{ data: one }"
        ><Button
          v-if="canStop(one)"
          size="small"
          text
          :disabled="busy"
          :label="t('jobs.stop')"
          :aria-label="words.pair(t('jobs.stop'), t(`jobs.kind.${one.kind}`))"
          @click="emit('stop', one)" /></template
    ></Column>
  </DataTable>
</template>
