<script setup lang="ts">
/** Sending has its own page: what is blank, what is doubtful, what is asked; then one button. */
definePageMeta({ layout: 'desk' })
const { t } = useI18n()
const route = useRoute()
const session = useSession()
const round = computed(() => String(route.params.round))
const unit = session.view!.branch!.unit.code
const report = useLoad(() => readReport(session.view!.person.id, round.value, unit), () => round.value)
</script>

<template>
  <div>
    <ReportSender v-if="report.data.value" :key="report.data.value.round.id" :file="report.data.value" />
    <template v-else>
      <DeskHead :title="t('place.due')" back="/desk" />
      <main class="page"><LoadState :load="report" /></main>
    </template>
  </div>
</template>
