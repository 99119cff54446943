<script setup lang="ts">
import { filterKind, type AnswerFilter } from '#core/cases/answer-filter'
import type { AnswerQuestion } from '#core/form/question'
import type { Units } from '~/units/useUnits'
import { UNITS_HERE } from '~/units/useUnits'

/** What the list asks of one answer: one of its choices, a range, or that nobody has said it. */
const { question, filter } = defineProps<{ question: AnswerQuestion; filter: AnswerFilter }>()
const emit = defineEmits<{ change: [filter: AnswerFilter]; remove: [] }>()
const words = useWords()
const { t } = words
const units = inject(UNITS_HERE, null) as Units | null
const kind = computed(() => filterKind(question))
const label = computed(() => words.say(question.label))
const id = computed(() => `filter-${question.code}`)
const MISSING = ' missing'
const options = computed(() => [
  ...(question.kind === 'yesNo'
    ? [
        { value: 'true', label: t('answer.yes') },
        { value: 'false', label: t('answer.no') },
      ]
    : 'choices' in question
      ? question.choices.map(choice => ({ value: choice.code, label: words.say(choice.label) }))
      : []),
  { value: MISSING, label: t('caseList.missing') },
])
const chosen = computed({
  get: () => (filter.is === 'value' ? String(filter.value) : MISSING),
  set: value => {
    const { code } = question
    if (value === MISSING) return emit('change', { code, is: 'missing' })
    const typed =
      question.kind === 'yesNo' ? value === 'true' : question.kind === 'severalOf' ? [value] : value
    emit('change', { code, is: 'value', value: typed })
  },
})
const unit = computed({
  get: () => (filter.is === 'value' ? String(filter.value) : null),
  set: value => {
    if (value) emit('change', { code: question.code, is: 'value', value })
  },
})
type Limit = number | string | null
const limits = computed(() => (filter.is === 'between' ? filter : { from: null, to: null }))
const numbers = computed(() => limits.value as { from: number | null; to: number | null })
const limit = (end: 'from' | 'to', value: Limit) => {
  const next = { from: limits.value.from, to: limits.value.to, [end]: value === '' ? null : value }
  emit('change', { code: question.code, is: 'between', ...next })
}
</script>

<template>
  <div class="one">
    <PickOne
      v-if="kind === 'choice' && question.kind !== 'unit'"
      v-model="chosen"
      :input-id="id"
      :label="label"
      :options="options"
    />
    <div v-else-if="question.kind === 'unit' && units" class="field">
      <label :for="id">{{ label }}</label>
      <UnitPicker v-model="unit" :units="units" :input-id="id" needed />
    </div>
    <DayRange
      v-else-if="kind === 'day'"
      :from="String(limits.from ?? '')"
      :to="String(limits.to ?? '')"
      :input-id="id"
      :label="label"
      @update:from="limit('from', $event)"
      @update:to="limit('to', $event)"
    />
    <fieldset v-else-if="kind === 'number'" class="plain">
      <legend>{{ label }}</legend>
      <span class="range">
        <template v-for="end in ['from', 'to'] as const" :key="end">
          <label class="quiet small" :for="`${id}-${end}`">{{ t(`caseList.${end}`) }}</label>
          <NumberField
            :model-value="numbers[end]"
            :input-id="`${id}-${end}`"
            decimals
            @update:model-value="limit(end, $event)"
          />
        </template>
      </span>
    </fieldset>
    <p v-else class="said">
      <strong>{{ label }}</strong> {{ t('caseList.isMissing') }}
    </p>
    <Button
      severity="secondary"
      text
      icon="pi pi-times"
      :aria-label="t('caseList.removeFilter', { question: label })"
      @click="emit('remove')"
    />
  </div>
</template>

<style scoped>
.one {
  display: flex;
  align-items: flex-end;
  gap: 4px;
}
.range {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.said {
  margin: 0;
  padding-bottom: 8px;
}
</style>
