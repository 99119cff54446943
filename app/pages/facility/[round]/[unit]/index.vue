<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'

/** One facility's report, as the officer reads it. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const params = computed(() => ({ round: String(route.params.round), unit: String(route.params.unit) }))
const report = useLoad<ReportFile>(
  () => callApi('GET /api/reports/:round/:unit', { params: params.value }),
  () => params.value,
)
useRoundNeighbours(
  () => params.value.round,
  round => void router.push(facilityLink(round, params.value.unit)),
)
</script>

<template>
  <div class="page">
    <h1 v-if="!report.data.value" class="visually-hidden">{{ t('place.gather') }}</h1>
    <LoadState v-slot="{ data }" :load="report">
      <ReportReader
        :key="`${data.round.id} ${data.unit.code} ${data.state} ${data.late.length} ${data.letIn?.until}`"
        :file="data"
        @changed="report.reload()"
      />
    </LoadState>
    <p v-if="report.problem.value" class="back">
      <NuxtLink to="/gather">{{ t('act.toBoard') }}</NuxtLink>
    </p>
  </div>
</template>
