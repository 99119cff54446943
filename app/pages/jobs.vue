<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { JOB_FILTERS, type JobKind, type JobLine, type JobList } from '#core/contract/jobs'

/** Long work, and what the installation does by itself: how far it is, starting and stopping it. */
const { t } = useI18n()
const filter = ref<(typeof JOB_FILTERS)[number] | null>(null)
const options = computed(() =>
  [null, ...JOB_FILTERS].map(value => ({ value, label: t(`jobs.filter.${value ?? 'all'}`) })),
)
const plans = useLoad(() => callApi('GET /api/jobs/plan', {}))
const list = usePages<JobLine, JobList>(
  after =>
    callApi('GET /api/jobs', {
      query: { ...(filter.value && { filter: filter.value }), ...(after && { after: after.id }) },
    }),
  () => filter.value,
)
const { busy, problem, run } = useAct()
const reload = () => Promise.all([plans.reload(), list.reload()])
const ask = (kind: JobKind) =>
  run(async () => {
    await callApi('POST /api/jobs', { body: { kind } })
    await reload()
  })
const stop = (job: JobLine) =>
  run(async () => {
    await callApi('POST /api/jobs/:id/stop', { params: { id: job.id } })
    await list.reload()
  })

/** What moves is looked at often, what rests seldom. */
const MOVING_MS = 2_000
const RESTING_MS = 20_000
const isMoving = computed(() =>
  [...(list.data.value?.lines ?? []), ...(plans.data.value ?? []).map(({ last }) => last)].some(
    job => job && ['waiting', 'running'].includes(job.state),
  ),
)
useIntervalFn(
  () => document.visibilityState === 'visible' && void reload(),
  () => (isMoving.value ? MOVING_MS : RESTING_MS),
)
</script>

<template>
  <div class="page">
    <PageHead :title="t('jobs.title')" />
    <div class="stack">
      <ProblemNote :problem="problem" />
      <LoadState v-slot="{ data }" :load="plans"
        ><JobPlans :plans="data" :busy="busy" @ask="ask"
      /></LoadState>
      <section class="card stack">
        <h2>{{ t('jobs.all') }}</h2>
        <div class="fields">
          <PickOne v-model="filter" input-id="jobs-filter" :label="t('jobs.which')" :options="options" />
        </div>
        <LoadState
          v-slot="{ data }"
          :load="list"
          :empty="list.data.value?.lines.length === 0"
          :empty-text="t('jobs.none')"
        >
          <JobTable :lines="data.lines" :busy="busy" @stop="stop" />
          <ShowMore :more="data.more" @show="list.showMore()" />
        </LoadState>
      </section>
    </div>
  </div>
</template>
