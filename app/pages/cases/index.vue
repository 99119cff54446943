<script setup lang="ts">
import { listQuestions } from '#core/cases/list-questions'
import type { CaseLine } from '#core/contract/cases'
import { UNITS_HERE } from '~/units/useUnits'

/** The cases of the person's part of the tree: searched, filtered, sorted, a page at a time. */
const words = useWords()
const session = useSession()
const { t } = words
const { byCode: registers } = useRegisters()
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { titleOfCase, restOf, textOf } = useCaseLines(code => registers.value.get(code), units)
const list = useCaseList(() => registers.value)
const { load, text, register } = list
const options = computed(() => [
  { value: null as string | null, label: t('cases.allRegisters') },
  ...[...registers.value].map(([value, { name }]) => ({
    value: value as string | null,
    label: words.say(name),
  })),
])
const shownRegister = computed({
  get: () => list.asked.value.register ?? null,
  set: code => void list.chooseRegister(code),
})
// Who comes by an address with filters sees them.
const filtersShown = ref(list.hasFilters.value)

const nameOf = (code: string) => words.say(registers.value.get(code)?.name ?? { en: code })
const NUMBERS = new Set(['wholeNumber', 'decimal', 'computed'])
const DAYS = new Set(['date', 'partialDate', 'identifier'])
/** The columns that a register adds: the questions that were chosen for it. */
const columns = computed(() => {
  const own = register.value
  if (!own) return []
  const questions = listQuestions(own)
  return list.columns.value.flatMap(code => {
    const found = questions.get(code)
    if (!found) return []
    const { label, kind } = found.question
    return [
      {
        code,
        label: words.say(label),
        class: NUMBERS.has(kind) ? 'num' : DAYS.has(kind) ? 'day' : '',
        textOf: (one: CaseLine) => textOf(own, code, one.answers[code]),
      },
    ]
  })
})
const today = words.today()
const visitOf = (one: CaseLine) => {
  const day = one.nextVisit === null ? null : Math.floor(Date.parse(one.nextVisit) / 86_400_000)
  return day === null || day > today ? null : day < today ? today - day : 0
}
const sort = ({ sortField, sortOrder }: { sortField?: unknown; sortOrder?: number | null }) =>
  list.ask({ sort: String(sortField), order: sortOrder === 1 ? 'ascending' : 'descending' })
const sortField = computed(() => list.asked.value.sort ?? 'lastOn')
const sortOrder = computed(() => (list.asked.value.order === 'ascending' ? 1 : -1))
const countText = computed(() => {
  const counts = load.data.value?.counts
  if (!counts) return ''
  return counts.found === counts.all
    ? t('caseList.all', { count: words.number(counts.all) }, counts.all)
    : t('caseList.found', { found: words.number(counts.found), all: words.number(counts.all) })
})
</script>

<template>
  <div class="page">
    <PageHead :title="t('cases.title')"
      ><NuxtLink to="/gather">{{ t('place.gather') }}</NuxtLink>
      <template #acts
        ><NuxtLink
          v-if="register && session.can('enterPaper')"
          :to="`/cases/fill?register=${register.code}`"
          >{{ t('paperEntry.enter') }}</NuxtLink
        ></template
      ></PageHead
    >
    <div class="fields filter">
      <PickOne
        v-model="shownRegister"
        input-id="cases-register"
        :label="t('bundle.kind.register')"
        :options="options"
      />
      <div class="field wide">
        <label for="cases-find">{{ t('caseList.search') }}</label>
        <InputText id="cases-find" v-model="text" maxlength="100" :placeholder="t('cases.find')" />
      </div>
      <div class="field acts">
        <span class="row">
          <Button
            severity="secondary"
            outlined
            icon="pi pi-sliders-h"
            :label="t('caseList.filters')"
            :aria-expanded="filtersShown"
            @click="filtersShown = !filtersShown"
          />
          <Button
            v-if="list.isFiltered.value"
            severity="secondary"
            text
            :label="t('caseList.clear')"
            @click="list.clear()"
          />
        </span>
      </div>
    </div>
    <CaseFilters v-if="filtersShown" class="filter" :list="list" :units="units" />
    <p class="count" role="status">{{ countText }}</p>
    <LoadState
      v-slot="{ data }"
      :load="load"
      :empty="load.data.value?.lines.length === 0"
      :empty-text="list.isFiltered.value ? t('caseList.none') : t('cases.noneInOffice')"
    >
      <div class="scroll">
        <DataTable
          :value="data.lines"
          data-key="id"
          lazy
          :sort-field="sortField"
          :sort-order="sortOrder"
          @sort="sort"
        >
          <template v-if="!register">
            <Column :header="t('cases.case')"
              ><template #body="{ data: one }"
                ><NuxtLink :to="`/cases/${one.id}`"
                  ><strong>{{ titleOfCase(one) }}</strong></NuxtLink
                >
                <p class="small quiet">{{ restOf(one) }}</p></template
              ></Column
            >
            <Column :header="t('bundle.kind.register')"
              ><template #body="{ data: one }">{{ nameOf(one.register) }}</template></Column
            >
          </template>
          <Column
            v-for="(column, at) in columns"
            :key="column.code"
            :field="column.code"
            sortable
            :header="column.label"
            :class="column.class"
            ><template #body="{ data: one }"
              ><NuxtLink v-if="at === 0" :to="`/cases/${one.id}`"
                ><strong>{{ column.textOf(one) || t('cases.unnamed') }}</strong></NuxtLink
              ><template v-else>{{ column.textOf(one) }}</template></template
            ></Column
          >
          <Column :header="t('tryOut.facility')"
            ><template #body="{ data: one }">{{ one.unit.name }}</template></Column
          >
          <Column :header="t('caseList.waitsFor')"
            ><template #body="{ data: one }"
              ><WordTag v-if="visitOf(one) !== null" :tone="visitOf(one) ? 'brick' : 'amber'">{{
                visitOf(one)
                  ? t('caseList.missedBy', { days: words.days(visitOf(one)!) })
                  : t('caseList.need.visitDue')
              }}</WordTag>
              <WordTag v-if="one.resultAwaited" tone="dusk">{{ t('caseList.need.resultAwaited') }}</WordTag>
              <WordTag v-if="one.closed">{{
                t('caseLife.closedOn', {
                  day: words.plainDay(one.closed.on),
                  outcome: t(`caseLife.outcome.${one.closed.outcome}`),
                })
              }}</WordTag></template
            ></Column
          >
          <Column field="lastOn" sortable :header="t('cases.last')" class="day"
            ><template #body="{ data: one }">{{ words.plainDay(one.lastOn) }}</template></Column
          >
          <Column field="receivedAt" sortable :header="t('caseList.receivedAt')" class="day"
            ><template #body="{ data: one }">{{
              one.receivedAt ? words.moment(one.receivedAt) : ''
            }}</template></Column
          >
        </DataTable>
      </div>
      <ShowMore :more="data.more" @show="load.showMore()" />
    </LoadState>
  </div>
</template>

<style scoped>
.filter {
  margin-bottom: 12px;
}
.acts {
  align-self: flex-end;
}
.count {
  margin: 0 0 6px;
  color: var(--ink-7);
}
.scroll {
  overflow-x: auto;
}
.scroll :deep(.num) {
  text-align: right;
}
.scroll :deep(td.day) {
  white-space: nowrap;
}
.scroll :deep(td) {
  padding-block: 6px;
}
</style>
