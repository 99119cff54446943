<script setup lang="ts">
/** What is doubted about a case, and how each doubt ended. */
const { caseId } = defineProps<{ caseId: string }>()
const words = useWords()
const { t } = words
const load = useLoad(
  () => callApi('GET /api/case-doubts', { query: { case: caseId } }),
  () => caseId,
)
</script>

<template>
  <LoadState v-slot="{ data }" :load="load">
    <template v-if="data.lines.length">
      <h2>{{ t('caseDoubts.ofCase') }}</h2>
      <ul class="plain-list stack">
        <li v-for="one in data.lines" :key="one.id" class="row">
          <StrengthTag v-if="one.state !== 'settled'" :strength="one.strength" />
          <WordTag v-else tone="moss">{{ t(`outcome.${one.outcome}`) }}</WordTag>
          <NuxtLink :to="`/resolve/cases?doubt=${one.id}`">{{ words.say(one.title) }}</NuxtLink>
          <span v-if="one.state !== 'settled'" class="small quiet">{{ t(`discrepancy.${one.state}`) }}</span>
        </li>
      </ul>
    </template>
  </LoadState>
</template>

<style scoped>
h2 {
  margin: 0;
}
</style>
