<script setup lang="ts">
import { filterKind, type AnswerFilter } from '#core/cases/answer-filter'
import { listQuestions } from '#core/cases/list-questions'
import { CASE_NEEDS, CASE_STATES, MOST_COLUMNS } from '#core/contract/cases'
import type { useCaseList } from '~/cases/useCaseList'
import type { Units } from '~/units/useUnits'

/** What a list of cases is narrowed by, and which columns it has. */
const { list, units } = defineProps<{ list: ReturnType<typeof useCaseList>; units: Units }>()
const words = useWords()
const { t } = words
const unit = computed({
  get: () => list.asked.value.unit ?? null,
  set: code => void list.ask({ unit: code ?? undefined }),
})
const need = computed({
  get: () => list.asked.value.need ?? null,
  set: value => void list.ask({ need: value ?? undefined }),
})
const needs = computed(() => [
  { value: null, label: t('caseList.need.none') },
  ...CASE_NEEDS.map(value => ({ value, label: t(`caseList.need.${value}`) })),
])
const state = computed({
  get: () => list.asked.value.state ?? null,
  set: value => void list.ask({ state: value ?? undefined }),
})
const states = computed(() => [
  { value: null, label: t('caseLife.state.any') },
  ...CASE_STATES.map(value => ({ value, label: t(`caseLife.state.${value}`) })),
])
const day = (key: 'happenedFrom' | 'happenedTo' | 'receivedFrom' | 'receivedTo') =>
  computed({
    get: () => list.asked.value[key] ?? '',
    set: value => void list.ask({ [key]: value }),
  })
const days = {
  happened: [day('happenedFrom'), day('happenedTo')],
  received: [day('receivedFrom'), day('receivedTo')],
} as const
const questions = computed(() => (list.register.value ? listQuestions(list.register.value) : null))
const nameOf = (code: string) => words.say(questions.value?.get(code)?.question.label ?? { en: code })
const choices = computed(() =>
  [...(questions.value ?? [])].map(([value]) => ({ value, label: nameOf(value) })),
)
const unfiltered = computed(() =>
  choices.value.filter(({ value }) => !list.filters.value.some(({ code }) => code === value)),
)
/** A filter that was chosen and says nothing yet is shown, and not asked for. */
const begun = ref<string | null>(null)
/** How many filters were added: the list to choose from begins anew each time, with nothing chosen. */
const added = ref(0)
const adding = computed({
  get: () => null,
  set: (code: string | null) => {
    if (!code) return
    const question = questions.value!.get(code)!.question
    begun.value = filterKind(question) === 'text' ? null : code
    if (!begun.value) void list.setFilters([...list.filters.value, { code, is: 'missing' }])
    added.value++
    // Who chose what to filter by goes on there.
    void nextTick(() => document.querySelector<HTMLElement>(`[id^="filter-${code}"]`)?.focus())
  },
})
const shown = computed<AnswerFilter[]>(() => [
  ...list.filters.value,
  ...(begun.value && !list.filters.value.some(({ code }) => code === begun.value)
    ? [{ code: begun.value, is: 'between' as const, from: null, to: null }]
    : []),
])
const isEmpty = (filter: AnswerFilter) =>
  filter.is === 'between' && filter.from === null && filter.to === null
const change = (filter: AnswerFilter) => {
  if (isEmpty(filter)) begun.value = filter.code
  return list.setFilters([
    ...list.filters.value.filter(({ code }) => code !== filter.code),
    ...(isEmpty(filter) ? [] : [filter]),
  ])
}
const remove = (code: string) => {
  if (begun.value === code) begun.value = null
  return list.setFilters(list.filters.value.filter(one => one.code !== code))
}
watch(
  () => list.asked.value.register,
  () => {
    begun.value = null
  },
)
const columns = computed({
  get: () => list.columns.value,
  set: codes => void list.ask({ columns: codes.slice(0, MOST_COLUMNS).join(',') }),
})
</script>

<template>
  <div class="stack card">
    <div class="fields">
      <div class="field">
        <label for="cases-unit">{{ t('caseList.unit') }}</label>
        <UnitPicker v-model="unit" :units="units" input-id="cases-unit" />
      </div>
      <PickOne v-model="need" input-id="cases-need" :label="t('caseList.needs')" :options="needs" />
      <PickOne v-model="state" input-id="cases-state" :label="t('caseLife.state.label')" :options="states" />
      <DayRange
        v-for="(ends, name) in days"
        :key="name"
        v-model:from="ends[0].value"
        v-model:to="ends[1].value"
        :input-id="`cases-${name}`"
        :label="t(`caseList.${name}`)"
      />
    </div>
    <template v-if="questions">
      <div class="fields">
        <AnswerFilterField
          v-for="filter in shown"
          :key="filter.code"
          :question="questions.get(filter.code)!.question"
          :filter="filter"
          @change="change"
          @remove="remove(filter.code)"
        />
        <PickOne
          :key="added"
          v-model="adding"
          input-id="cases-add-filter"
          :label="t('caseList.addFilter')"
          :options="[{ value: null, label: t('caseList.chooseQuestion') }, ...unfiltered]"
        />
      </div>
      <PickMany
        v-model="columns"
        input-id="cases-columns"
        :label="t('caseList.columns')"
        :options="choices"
      />
    </template>
    <p v-else class="quiet small">{{ t('caseList.oneRegister') }}</p>
  </div>
</template>
