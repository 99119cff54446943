<script setup lang="ts">
import type { PlannedUnit, UnitPreview } from '#core/contract/units'
import type { UnitVerdict } from '#core/geography/plan-changes'
import type { Tone } from '~/components/common/WordTag.vue'

/** What would happen, line by line: counted, to be filtered, with the reason of each refusal. */
const { preview } = defineProps<{ preview: UnitPreview }>()
const words = useWords()
const { t } = words
const TONES: Record<UnitVerdict, Tone> = {
  refused: 'brick',
  new: 'moss',
  reopened: 'moss',
  closed: 'amber',
  moved: 'dusk',
  renamed: 'dusk',
  changed: 'dusk',
  unchanged: 'plain',
}
const ROWS = 100
const only = ref<UnitVerdict | null>(null)
const verdicts = computed(
  () => Object.keys(TONES).filter(verdict => preview.counts[verdict as UnitVerdict]) as UnitVerdict[],
)
const lines = computed(() => preview.lines.filter(({ verdict }) => !only.value || verdict === only.value))
// What was chosen of another preview says nothing of this one; refusals are what one must see.
watch(
  () => preview,
  ({ counts }) => {
    only.value = counts.refused ? 'refused' : null
  },
  { immediate: true },
)
const reasons = (line: PlannedUnit) => line.problems.map(problem => words.problem(problem)).join(' ')
const others = (line: PlannedUnit) => line.changes.slice(1) as UnitVerdict[]
</script>

<template>
  <div class="stack">
    <div class="row" role="group" :aria-label="t('units.what')">
      <button type="button" class="pick" :aria-pressed="only === null" @click="only = null">
        {{ t('units.all') }} {{ preview.lines.length }}
      </button>
      <button
        v-for="verdict in verdicts"
        :key="verdict"
        type="button"
        class="pick"
        :aria-pressed="only === verdict"
        @click="only = verdict"
      >
        <WordTag :tone="TONES[verdict]">{{ t(`units.verdict.${verdict}`) }}</WordTag>
        {{ preview.counts[verdict] }}
      </button>
    </div>
    <DataTable :value="lines.slice(0, ROWS)" data-key="line" :table-props="{ 'aria-label': t('units.what') }">
      <Column :header="t('units.line')" field="line" class="number" />
      <Column :header="t('units.what')"
        ><template #body="{ data }"
          ><span class="row"
            ><WordTag :tone="TONES[data.verdict as UnitVerdict]">{{
              t(`units.verdict.${data.verdict}`)
            }}</WordTag
            ><WordTag v-for="change in others(data)" :key="change" :tone="TONES[change]">{{
              t(`units.verdict.${change}`)
            }}</WordTag></span
          ></template
        ></Column
      >
      <Column :header="t('units.name')"
        ><template #body="{ data }"
          ><strong>{{ data.name }}</strong> <code>{{ data.code }}</code></template
        ></Column
      >
      <Column v-if="preview.counts.refused" :header="t('units.why')"
        ><template #body="{ data }"
          ><span class="why">{{ reasons(data) }}</span></template
        ></Column
      >
    </DataTable>
    <p v-if="lines.length > ROWS" class="small quiet">
      {{ t('units.more', { count: lines.length - ROWS }, lines.length - ROWS) }}
    </p>
    <ul class="touched small">
      <li>
        {{
          preview.touched.reports
            ? t('units.touches', { count: preview.touched.reports }, preview.touched.reports)
            : t('units.touchesNothing')
        }}
      </li>
      <li v-if="preview.touched.signed">
        {{ t('units.signedStay', { count: preview.touched.signed }, preview.touched.signed) }}
      </li>
      <li v-if="preview.passedOver.length">
        {{ t('units.passedOver', { what: preview.passedOver.join(', ') }) }}
      </li>
      <li v-if="preview.counts.refused">
        {{ t('units.refusedStay', { count: preview.counts.refused }, preview.counts.refused) }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.pick {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  padding: 3px 9px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--card);
  color: var(--ink-7);
  font: 600 14px var(--body);
  cursor: pointer;
}
.pick[aria-pressed='true'] {
  border-color: var(--plum-5);
  box-shadow: inset 0 0 0 1px var(--plum-5);
}
.why {
  color: var(--brick-7);
}
code {
  font-size: 13px;
  color: var(--ink-5);
}
.touched {
  margin: 0;
  padding-left: 18px;
}
</style>
