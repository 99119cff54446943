<script setup lang="ts">
/** Sending has its own page: what is blank, what is doubtful, what is asked; then one button. */
definePageMeta({ layout: 'desk' })
const { t } = useI18n()
const report = useOwnReport()
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
