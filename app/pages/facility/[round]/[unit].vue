<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'

/** One facility's report, as the officer reads it. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const params = computed(() => ({ round: String(route.params.round), unit: String(route.params.unit) }))
const report = useLoad<ReportFile>(() => callApi('GET /api/reports/:round/:unit', { params: params.value }), () => params.value)
const [dataset] = params.value.round.split('~')
const shift = (by: number) => {
  const now = report.data.value?.round.period
  const periods = report.data.value?.history.periods ?? []
  if (!now) return
  if (by < 0 && periods[0]) void router.push(`/facility/${dataset}~${periods[0]}/${params.value.unit}`)
}
useKeys([{ key: '[', says: 'keys.roundBack', run: () => shift(-1) }])
</script>

<template>
  <div class="page">
    <h1 v-if="!report.data.value" class="heard-only">{{ t('place.gather') }}</h1>
    <LoadState v-slot="{ data }" :load="report">
      <ReportReader :key="`${data.round.id} ${data.unit.code} ${data.state} ${data.late.length} ${data.letIn?.until}`" :file="data" @changed="report.reload()" />
    </LoadState>
    <p v-if="report.problem.value" class="back"><NuxtLink to="/gather">{{ t('act.toBoard') }}</NuxtLink></p>
  </div>
</template>
