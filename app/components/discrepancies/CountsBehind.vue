<script setup lang="ts">
/** The counts of cases behind a doubt, each with its cases as they are now. */
const { id } = defineProps<{ id: string }>()
const words = useWords()
const load = useLoad(
  () => callApi('GET /api/discrepancies/:id/cases', { params: { id } }),
  () => id,
)
const { byCode: registers } = useRegisters()
const { titleOfCase } = useCaseLines(code => registers.value.get(code))
const counts = computed(() =>
  (load.data.value?.counts ?? []).map(({ text, name, total, lines }) => ({
    text,
    name: words.say(name),
    total,
    cases: lines.map(line => ({ id: line.id, title: titleOfCase(line), to: `/cases/${line.id}` })),
  })),
)
</script>

<template>
  <section class="card stack">
    <h3>{{ words.t('countedCases.title') }}</h3>
    <LoadState :load="load"><CountedCases :counts="counts" /></LoadState>
  </section>
</template>

<style scoped>
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
</style>
