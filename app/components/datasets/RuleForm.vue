<script setup lang="ts">
import { NOTHING, vocabularyOf } from '#core/expression/vocabulary'
import { compileRuleList } from '#core/rule/compile-rules'
import { itemsOf } from '#core/report/edition'
import { axesOver, type RuleDefinition } from '#core/rule/definition'
import type { DraftWork } from '~/define/useDraft'
import type { Units } from '~/units/useUnits'

/**
 * One rule: what must hold, how much it weighs, for whom and from when, and what is said; tried on the past
 * beside it.
 */
const { work, units, dataset } = defineProps<{ work: DraftWork; units: Units; dataset: string }>()
/** The rule of the draft that is worked on: its fields write straight into it. */
const rule = defineModel<RuleDefinition>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const words = useWords()
const { t } = words
const edition = computed(() => work.whole.value!)
const vocabulary = computed(() => vocabularyOf(edition.value))
/** Counts of cases are not judged yet, so they are not offered. A rule that has one is kept, and says so. */
const offered = computed(() => ({ ...vocabulary.value, lists: NOTHING }))
const axisOf = (code: string) => edition.value.axes.find(axis => axis.code === code)
/** The expression is read for the first band of each axis that the rule goes over. */
const narrowing = computed(() =>
  axesOver(rule.value).flatMap(code => {
    const band = axisOf(code)?.bands[0]
    return band ? [{ axis: code, band: band.code }] : []
  }),
)
const sound = computed(
  () =>
    Boolean(rule.value.expression.trim()) &&
    compileRuleList([rule.value], vocabulary.value, edition.value.axes).ok,
)
const optional = <K extends 'branch' | 'from'>(key: K) =>
  computed<string | null>({
    get: () => rule.value[key] ?? null,
    set: next => {
      if (next) rule.value[key] = next
      else delete rule.value[key]
    },
  })
/** The axes as one choice: `age`, or `age+sex`. */
const over = computed<string | null>({
  get: () => axesOver(rule.value).join('+') || null,
  set: next => {
    const axes = next?.split('+') ?? []
    if (axes.length) rule.value.over = axes.length === 1 ? axes[0]! : axes
    else delete rule.value.over
  },
})
/** The whole items, each axis, and each pair of axes that an item is split by. */
const overChoices = computed(() => {
  const pairs = [
    ...new Set(
      itemsOf(edition.value)
        .filter(({ axes }) => axes.length === 2)
        .map(({ axes }) => axes.join('+')),
    ),
  ]
  const named = (code: string) => words.say(axisOf(code)?.name ?? { en: code })
  return [
    { value: null as string | null, label: t('rules.wholeItem') },
    ...edition.value.axes.map(axis => ({
      value: axis.code as string | null,
      label: t('rules.each', { name: words.say(axis.name) }),
    })),
    ...pairs.map(pair => ({
      value: pair as string | null,
      label: t('rules.eachPair', { name: named(pair.split('+')[0]!), other: named(pair.split('+')[1]!) }),
    })),
  ]
})
const branch = optional('branch')
const from = optional('from')
</script>

<template>
  <div class="stack">
    <RuleFrame v-model="rule" @remove="emit('remove')">
      <ExpressionField
        v-model="rule.expression"
        input-id="rule-expression"
        :label="t('define.mustHold')"
        :vocabulary="vocabulary"
        :offered="offered"
        wanted="truth"
        :narrowing="narrowing"
        parts
      />
      <OnReport
        :dataset="dataset"
        :edition="edition"
        :text="rule.expression"
        :narrowing="narrowing"
        :blanks-as-zero="rule.blanks === 'zero'"
      />
      <template #fields>
        <PickOne v-model="over" input-id="rule-over" :label="t('rules.over')" :options="overChoices" />
        <div class="field">
          <label for="rule-from">{{ t('rules.from') }}</label><DayField
            :model-value="from ?? ''"
            input-id="rule-from"
            @update:model-value="day => (from = day || null)"
          />
        </div>
        <div class="field wide">
          <label for="rule-branch">{{ t('rules.branch') }}</label><UnitPicker
            v-model="branch"
            input-id="rule-branch"
            :units="units"
          />
        </div>
      </template>
    </RuleFrame>
    <TryOut :dataset="dataset" :edition="edition" :rule="rule" :sound="sound" />
  </div>
</template>
