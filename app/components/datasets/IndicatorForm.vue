<script setup lang="ts">
import { compile } from '#core/expression/compile'
import { vocabularyOf } from '#core/expression/vocabulary'
import type { IndicatorDefinition } from '#core/report/edition'
import { indicatorOverPast } from '#core/rollup/indicator-past'
import type { Past } from '#core/rule/try-out'
import type { DraftWork } from '~/define/useDraft'

/** One indicator, and what it would have been in the last rounds of the person's part of the tree. */
const { work, dataset } = defineProps<{ work: DraftWork; dataset: string }>()
const indicator = defineModel<IndicatorDefinition>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const words = useWords()
const { t } = words
const edition = computed(() => work.draft.value!)
const vocabulary = computed(() => vocabularyOf(edition.value))
const compiled = computed(() =>
  [indicator.value.numerator, indicator.value.denominator].map(text =>
    compile(text, vocabulary.value, 'number'),
  ),
)
const needs = computed(() =>
  compiled.value
    .flatMap(one => (one.ok ? [...one.value.bindings.names.values()].flatMap(name => name.cells) : []))
    .sort()
    .join(),
)
const sound = computed(() => compiled.value.every(one => one.ok))
const past = useLoad<Past | null>(
  async () =>
    sound.value
      ? readPast(
          dataset,
          compiled.value.flatMap(one => (one.ok ? [one.value] : [])),
        )
      : null,
  () => (sound.value ? needs.value : ''),
)
const figures = computed(() => {
  if (!sound.value || !past.data.value) return []
  const found = indicatorOverPast(edition.value, indicator.value, past.data.value, words.today())
  return found.ok
    ? found.value.map((figure, at) => ({ ...figure, period: past.data.value!.periods[at]!.period }))
    : []
})
const FACTORS = [1, 100, 1000, 10_000, 100_000]
</script>

<template>
  <section class="card stack">
    <div class="spread">
      <h2>{{ words.say(indicator.name) || indicator.code }}</h2>
      <Button
        size="small"
        text
        severity="secondary"
        icon="pi pi-trash"
        :label="t('indicators.remove')"
        @click="emit('remove')"
      />
    </div>
    <WordsField v-model="indicator.name" input-id="indicator-name" :label="t('draft.name')" />
    <ExpressionField
      v-model="indicator.numerator"
      input-id="indicator-numerator"
      :label="t('draft.part.numerator')"
      :vocabulary="vocabulary"
      wanted="number"
    />
    <ExpressionField
      v-model="indicator.denominator"
      input-id="indicator-denominator"
      :label="t('draft.part.denominator')"
      :vocabulary="vocabulary"
      wanted="number"
    />
    <div class="fields">
      <PickOne
        v-model="indicator.factor"
        input-id="indicator-factor"
        :label="t('draft.part.factor')"
        :options="FACTORS.map(one => ({ value: one, label: words.number(one) }))"
      />
    </div>
    <WordsField
      v-model="indicator.unitOfMeasure"
      input-id="indicator-unit"
      :label="t('indicators.behind')"
      :most="60"
    />
    <h3>{{ t('indicators.tried') }}</h3>
    <p v-if="!sound" class="quiet">{{ t('onReport.notYet') }}</p>
    <LoadState v-else :load="past" :empty="!figures.length" :empty-text="t('onReport.none')">
      <DataTable :value="figures" data-key="period" size="small">
        <Column :header="t('onReport.period')"
          ><template #body="{ data: line }">{{ words.period(line.period) }}</template></Column
        >
        <Column :header="t('draft.part.numerator')" class="number"
          ><template #body="{ data: line }">{{ words.number(line.numerator, 2) }}</template></Column
        >
        <Column :header="t('draft.part.denominator')" class="number"
          ><template #body="{ data: line }">{{ words.number(line.denominator, 2) }}</template></Column
        >
        <Column :header="words.say(indicator.name)" class="number"
          ><template #body="{ data: line }"
            ><strong>{{ words.number(line.value, 1) }}</strong>
            {{ words.say(indicator.unitOfMeasure) }}</template
          ></Column
        >
      </DataTable>
    </LoadState>
  </section>
</template>
