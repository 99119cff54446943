<script setup lang="ts">
import { MEASURES, overTimeCsv, overTimeRows } from '~/rounds/overTimeRows'

/** How facilities reported a dataset over its rounds: completeness, timeliness, and how much is answered. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const SPANS = [6, 12, 18, 24, 52, 60] as const
const { asked, ask } = useAsked(['rounds', 'measure', 'as'])
const roundId = computed(() => String(route.params.round))
const span = computed({
  get: () => SPANS.find(one => String(one) === asked.value.rounds) ?? 12,
  set: value => void ask({ rounds: String(value) }),
})
const measure = computed({
  get: () => MEASURES.find(one => one === asked.value.measure) ?? 'completeness',
  set: value => void ask({ measure: value }),
})
const isChart = computed(() => asked.value.as === 'chart')
const load = useLoad(
  () =>
    callApi('GET /api/rounds/:round/over-time', {
      params: { round: roundId.value },
      query: { unit: session.district ?? undefined, rounds: span.value },
    }),
  () => [roundId.value, session.district, span.value],
)
const rows = computed(() => (load.data.value ? overTimeRows(load.data.value) : []))
const last = computed(() => load.data.value?.rounds.at(-1))
const go = (round: string) => router.push({ path: `/gather/over-time/${round}`, query: route.query })
const download = () =>
  load.data.value &&
  saveFile(
    `reporting-${load.data.value.unit.code.replaceAll('/', '-')}-${roundId.value.replace('~', '-')}.csv`,
    'text/csv;charset=utf-8',
    overTimeCsv(load.data.value),
  )
</script>

<template>
  <div class="page">
    <h1 v-if="!load.data.value" class="visually-hidden">{{ t('overTime.title') }}</h1>
    <LoadState v-slot="{ data }" :load="load">
      <PageHead :title="t('overTime.title')">
        <RoundPicker v-if="last" :round="last" @go="go" />
        <template #acts>
          <NuxtLink :to="`/gather/${roundId}`">{{ t('act.toBoard') }}</NuxtLink>
          <Button
            severity="secondary"
            outlined
            icon="pi pi-download"
            :label="t('overTime.download')"
            @click="download"
          />
        </template>
      </PageHead>
      <div class="fields filters">
        <PickOne
          v-model="span"
          input-id="over-time-span"
          :label="t('overTime.span')"
          :options="SPANS.map(value => ({ value, label: t('overTime.rounds', { count: value }, value) }))"
        />
        <PickOne
          v-model="measure"
          input-id="over-time-measure"
          :label="t('overTime.measure')"
          :options="MEASURES.map(value => ({ value, label: t(`overTime.${value}`) }))"
        />
        <Button
          severity="secondary"
          outlined
          :icon="isChart ? 'pi pi-table' : 'pi pi-chart-line'"
          :label="t(isChart ? 'overTime.asTable' : 'overTime.asChart')"
          :aria-pressed="isChart"
          @click="ask({ as: isChart ? null : 'chart' })"
        />
        <p class="quiet small">{{ t(`overTime.says.${measure}`) }}</p>
      </div>
      <p v-if="!data.rows.length" class="quiet" role="status">{{ t('board.empty') }}</p>
      <template v-else>
        <!-- Its library is a quarter of what this page loads for itself: only for who asks for the chart. -->
        <LazyOverTimeChart v-if="isChart" :table="data" :all="rows[0]!" />
        <OverTimeTable :table="data" :rows="rows" :measure="measure" />
      </template>
    </LoadState>
  </div>
</template>

<style scoped>
.filters {
  align-items: flex-end;
  margin-bottom: 12px;
}
.filters p {
  max-width: 46ch;
}
</style>
