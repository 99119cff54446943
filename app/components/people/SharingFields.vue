<script setup lang="ts">
import { readFilters, writeFilters, type AnswerFilter } from '#core/cases/answer-filter'
import { listQuestions } from '#core/cases/list-questions'
import type { Sharing } from '#core/contract/people'

/** What of the branch a person sees: which datasets, which registers, and of these, for a reader, which cases. */
const { hasConditions } = defineProps<{ hasConditions: boolean }>()
const sharing = defineModel<Sharing | null>({ required: true })
const words = useWords()
const { t } = words
const { byCode: registers } = useRegisters()
const datasets = useLoad(() => callApi('GET /api/datasets', {}))
const datasetOptions = computed(() =>
  (datasets.data.value ?? []).map(({ edition }) => ({
    value: edition.dataset,
    label: words.say(edition.name),
  })),
)
const registerOptions = computed(() =>
  [...registers.value].map(([value, { name }]) => ({ value, label: words.say(name) })),
)
const isPart = computed({
  get: () => sharing.value !== null,
  set: on => {
    sharing.value = on ? { datasets: [], registers: [] } : null
  },
})
const now = computed(() => sharing.value ?? { datasets: null, registers: null })
const change = (more: Partial<Sharing>) => {
  sharing.value = { ...now.value, ...more }
}
const allDatasets = computed({
  get: () => now.value.datasets === null,
  set: on => change({ datasets: on ? null : [] }),
})
const allRegisters = computed({
  get: () => now.value.registers === null,
  set: on => change({ registers: on ? null : [] }),
})
const chosenDatasets = computed({
  get: () => now.value.datasets ?? [],
  set: codes => change({ datasets: codes }),
})
const chosenRegisters = computed({
  get: () => (now.value.registers ?? []).map(({ register }) => register),
  set: codes =>
    change({
      registers: codes.map(
        register => now.value.registers?.find(one => one.register === register) ?? { register, where: '' },
      ),
    }),
})

/** The registers that are shared, each with what its cases must meet. */
const shared = computed(() =>
  (now.value.registers ?? []).flatMap(({ register: code, where }) => {
    const register = registers.value.get(code)
    if (!register) return []
    const read = readFilters(register, where)
    const filters = read.ok ? read.value : []
    const questions = listQuestions(register)
    return [{ code, name: register.name, filters, questions, isUnread: !read.ok }]
  }),
)
type Shared = (typeof shared.value)[number]
const unused = ({ questions, filters }: Shared) =>
  [...questions].flatMap(([value, { question }]) =>
    filters.some(({ code }) => code === value) ? [] : [{ value, label: words.say(question.label) }],
  )
const setFilters = (code: string, filters: readonly AnswerFilter[]) =>
  change({
    registers: (now.value.registers ?? []).map(one =>
      one.register === code ? { ...one, where: writeFilters(filters) } : one,
    ),
  })
const put = ({ code, filters }: Shared, filter: AnswerFilter) =>
  setFilters(code, [...filters.filter(one => one.code !== filter.code), filter])
</script>

<template>
  <fieldset class="plain stack">
    <legend>{{ t('people.sharing') }}</legend>
    <label><Checkbox v-model="isPart" binary /> {{ t('people.seesPart') }}</label>
    <template v-if="isPart">
      <label><Checkbox v-model="allDatasets" binary /> {{ t('people.allDatasets') }}</label>
      <PickMany
        v-if="!allDatasets"
        v-model="chosenDatasets"
        input-id="share-datasets"
        :label="t('people.shareDatasets')"
        :options="datasetOptions"
      />
      <label><Checkbox v-model="allRegisters" binary /> {{ t('people.allRegisters') }}</label>
      <PickMany
        v-if="!allRegisters"
        v-model="chosenRegisters"
        input-id="share-registers"
        :label="t('people.shareRegisters')"
        :options="registerOptions"
      />
      <div v-for="one in hasConditions ? shared : []" :key="one.code" class="fields where">
        <p class="name">{{ t('people.shareWhere', { register: words.say(one.name) }) }}</p>
        <p v-if="one.isUnread" class="wrong small">{{ t('people.shareUnread') }}</p>
        <AnswerFilterField
          v-for="filter in one.filters"
          :key="filter.code"
          :question="one.questions.get(filter.code)!.question"
          :filter="filter"
          @change="put(one, $event)"
          @remove="
            setFilters(
              one.code,
              one.filters.filter(({ code }) => code !== filter.code),
            )
          "
        />
        <PickOne
          :model-value="null"
          :input-id="`share-add-${one.code}`"
          :label="t('caseList.addFilter')"
          :options="[{ value: null, label: t('people.everyCase') }, ...unused(one)]"
          @update:model-value="code => code && put(one, { code, is: 'missing' })"
        />
      </div>
    </template>
  </fieldset>
</template>

<style scoped>
.where {
  align-items: flex-end;
  border-left: 3px solid var(--line);
  padding-left: 12px;
}
.name {
  flex-basis: 100%;
}
.wrong {
  color: var(--brick-7);
}
</style>
