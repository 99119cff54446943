<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'

/** Enters the report of a facility from paper. */
const { t } = useWords()
const route = useRoute()
const session = useSession()
const params = computed(() => ({ round: String(route.params.round), unit: String(route.params.unit) }))
const report = useLoad<ReportFile>(
  () => callApi('GET /api/reports/:round/:unit', { params: params.value }),
  () => params.value,
)
const back = computed(() => facilityLink(params.value.round, params.value.unit))
/** Begun anew: what was thrown away, or changed meanwhile, is read again. */
const times = ref(0)
async function again() {
  await report.reload()
  times.value++
}
</script>

<template>
  <div class="page">
    <h1 v-if="!report.data.value" class="visually-hidden">{{ t('paperReport.enter') }}</h1>
    <p v-if="!session.can('enterPaper')" role="alert">{{ t('problem.no-permission') }}</p>
    <LoadState v-else v-slot="{ data }" :load="report">
      <PaperReport
        :key="`${data.round.id} ${data.unit.code} ${times}`"
        :file="data"
        @saved="navigateTo(back)"
        @changed="again"
      />
    </LoadState>
    <p class="back">
      <NuxtLink :to="back">{{ t('paperReport.toReport') }}</NuxtLink>
    </p>
  </div>
</template>

<style scoped>
.back {
  margin-top: 14px;
}
</style>
