<script setup lang="ts">
/** A report being filled, section by section. */
definePageMeta({ layout: 'desk' })
const { t } = useI18n()
const report = useOwnReport()
// Signing in again while typing must not lay the server's state over what is on the page.
const file = shallowRef<AnswerOf<'GET /api/reports/:round/:unit'> | null>(null)
watch(
  () => report.data.value,
  data => {
    if (data && file.value?.round.id !== data.round.id) file.value = data
  },
  { immediate: true },
)
</script>

<template>
  <div>
    <ReportFiller v-if="file" :key="file.round.id" :file="file" />
    <template v-else>
      <DeskHead :title="t('place.due')" back="/desk" />
      <main class="page"><LoadState :load="report" /></main>
    </template>
  </div>
</template>
