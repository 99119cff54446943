<script setup lang="ts">
import type { Section } from '#core/report/edition'
import type { ShownReport } from '~/reports/useReportEntry'

/**
 * What the numbers of a section come to, while they are filled: a rate that nobody believes shows a slip that no
 * rule knows. Nothing where the section has no indicator.
 */
const { entry, section } = defineProps<{ entry: ShownReport; section: Section }>()
const words = useWords()
const { t } = words
const keys = new Set(entry.cells.flatMap(({ key, item }) => (section.items.includes(item) ? [key] : [])))
const ready = entry.indicators().filter(({ cells }) => [...cells].some(cell => keys.has(cell)))
/** One computed each: a key draws only what reads its cell. */
const figures = ready.map(({ definition, figure }) => ({
  definition,
  figure: computed(() => figure(entry.tableNow(), entry.today())),
}))
</script>

<template>
  <section v-if="figures.length" class="indicators" :aria-label="t('report.comesTo')">
    <h2>{{ t('report.comesTo') }}</h2>
    <dl>
      <div v-for="{ definition, figure } in figures" :key="definition.code">
        <dt>{{ words.say(definition.name) }}</dt>
        <dd>
          <template v-if="figure.value.value === null">–</template>
          <template v-else
            ><strong>{{ words.number(figure.value.value, 1) }}</strong>
            {{ words.say(definition.unitOfMeasure) }}
            <span class="quiet"
              >({{ words.number(figure.value.numerator, 1) }} /
              {{ words.number(figure.value.denominator, 1) }})</span
            ></template
          >
        </dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
.indicators {
  padding: 12px 16px;
  background: var(--sand);
  border-bottom: 1px solid var(--line);
}
h2 {
  margin: 0 0 6px;
  font: 600 14px/1.3 var(--body);
  color: var(--ink-7);
}
dl {
  display: grid;
  gap: 4px;
  margin: 0;
  font-size: 14px;
}
dl div {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 2px 14px;
}
dd {
  margin: 0;
  font-variant-numeric: tabular-nums;
}
</style>
