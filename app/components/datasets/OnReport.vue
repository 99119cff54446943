<script setup lang="ts">
import type { Narrowing } from '#core/expression/bind'
import { compile } from '#core/expression/compile'
import { evaluateRow } from '#core/expression/evaluate-row'
import { explain } from '#core/expression/explain'
import { vocabularyOf } from '#core/expression/vocabulary'
import { countsIn } from '#core/reconcile/count-figures'
import type { Edition } from '#core/report/edition'
import { tablesOfPast, type Past } from '#core/rule/try-out'

/** What an expression gives on a real report, chosen here, with the numbers put in. */
const {
  dataset,
  edition,
  text,
  narrowing,
  blanksAsZero = false,
} = defineProps<{
  dataset: string
  edition: Edition
  text: string
  narrowing?: Narrowing
  blanksAsZero?: boolean
}>()
const words = useWords()
const { t } = words
const doubts = useDoubtWords(() => namesOfEdition(edition))
const compiled = computed(() => {
  const result = text.trim() ? compile(text, vocabularyOf(edition), undefined, narrowing) : null
  return result?.ok ? result.value : null
})
/** What is read of the reports: another expression over the same needs nothing new. */
const read = computed(() =>
  compiled.value
    ? [
        ...[...compiled.value.bindings.names.values()].flatMap(reference => reference.cells),
        ...countsIn([{ compiled: compiled.value }]).map(({ text: count }) => count),
      ]
        .sort()
        .join()
    : '',
)
const past = useLoad<Past | null>(
  async () => (compiled.value ? readPast(dataset, [compiled.value]) : null),
  () => read.value,
)
const unit = ref(0)
const period = ref(0)
const units = computed(() =>
  (past.data.value?.units ?? []).map(({ name }, at) => ({ value: at, label: name })),
)
const periods = computed(() =>
  (past.data.value?.periods.slice(0, past.data.value.judged) ?? []).map((one, at) => ({
    value: at,
    label: words.period(one.period),
  })),
)
const said = computed(() => {
  const [of, from] = [compiled.value, past.data.value]
  if (!of || !from?.units.length) return null
  const table = tablesOfPast(from)[period.value]
  if (!table || unit.value >= from.units.length) return null
  const options = { blanksAsZero, today: words.today() }
  const value = evaluateRow(of, table, unit.value, options)
  const shown =
    value === null
      ? t('onReport.blank')
      : of.type === 'truth'
        ? t(value ? 'onReport.holds' : 'onReport.fails')
        : words.value(value, 2)
  return {
    shown,
    numbers: doubts.explained(explain(of, table, unit.value, options), of.type === 'truth'),
    truth: of.type === 'truth' ? value : null,
  }
})
</script>

<template>
  <div class="on">
    <p v-if="!compiled" class="small quiet">{{ t('onReport.notYet') }}</p>
    <LoadState v-else v-slot="{ data }" :load="past">
      <p v-if="!data?.units.length" class="small quiet">{{ t('onReport.none') }}</p>
      <div v-else class="fields">
        <PickOne v-model="unit" input-id="on-unit" :label="t('tryOut.facility')" :options="units" />
        <PickOne v-model="period" input-id="on-period" :label="t('onReport.period')" :options="periods" />
        <div v-if="said" class="field wide" role="status">
          <span class="label">{{ t('onReport.gives') }}</span>
          <p>
            <strong :class="{ fails: said.truth === 0 }">{{ said.shown }}</strong>{{ ' ' }}
            <span class="small quiet">{{ said.numbers }}</span>
          </p>
        </div>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.on {
  padding: 8px 10px;
  border-radius: 8px;
  background: var(--sand);
}
.fails {
  color: var(--brick-7);
}
</style>
