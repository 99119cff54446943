<script setup lang="ts">
import { DISCREPANCY_FILTERS, type DiscrepancyFilter } from '#core/contract/discrepancies'
import { UNITS_HERE } from '~/units/useUnits'

/** Discrepancies about cases: the list beside the one that is open. */
const words = useWords()
const { t } = words
const session = useSession()
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { load: registersLoad, byCode: registers } = useRegisters()
const { titleOfCase } = useCaseLines(code => registers.value.get(code), units)
const { asked, ask } = useAsked(['doubt', 'filter'])
const filter = computed<DiscrepancyFilter>({
  get: () => DISCREPANCY_FILTERS.find(one => one === asked.value.filter) ?? 'unsettled',
  set: value => void ask({ filter: value, doubt: null }),
})
const filters = computed(() =>
  DISCREPANCY_FILTERS.map(value => ({ value, label: t(`resolve.filter.${value}`) })),
)
const load = usePages(
  (after?: { id: string }) =>
    callApi('GET /api/case-doubts', {
      query: { unit: session.district ?? undefined, filter: filter.value, after: after?.id },
    }),
  () => [session.district, filter.value],
)
const chosen = computed(() => asked.value.doubt || (load.data.value?.lines[0]?.id ?? ''))
const choose = (id: string) => ask({ doubt: id })
const file = useLoad(
  async () => (chosen.value ? callApi('GET /api/case-doubts/:id', { params: { id: chosen.value } }) : null),
  () => chosen.value,
)
const registerOf = computed(() => registers.value.get(file.data.value?.line.case.register ?? '') ?? null)
const parentOf = computed(() => registers.value.get(registerOf.value?.parent ?? '') ?? null)
/** The one that was worked on stays open, also where it has left the list. */
async function done() {
  await choose(chosen.value)
  await Promise.all([load.reload(), file.reload()])
}
</script>

<template>
  <WorkBeside
    v-model="filter"
    :title="t('caseDoubts.title')"
    :load="load"
    :names="registersLoad"
    :filters="filters"
    :chosen="chosen"
    :none="t('caseDoubts.none')"
    :one="t('resolve.one')"
    @choose="choose"
  >
    <template #line="{ one }">
      <span class="spread"
        ><strong>{{ titleOfCase(one.case) }}</strong
        ><WordTag v-if="one.state === 'settled'" tone="moss">{{ t(`outcome.${one.outcome}`) }}</WordTag
        ><StrengthTag v-else :strength="one.strength"
      /></span>
      <span>{{ words.say(one.title) }}</span>
      <span class="small quiet"
        >{{ one.case.unit.name }} · {{ words.moment(one.foundAt) }} ·
        {{ t(`discrepancy.${one.state}`) }}</span
      >
    </template>
    <LoadState v-slot="{ data }" :load="file"
      ><CaseDoubtDetail
        v-if="data?.line.id === chosen && registerOf"
        :key="chosen"
        :file="data"
        :register="registerOf"
        :parent="parentOf"
        :name="titleOfCase(data.line.case)"
        @done="done"
    /></LoadState>
  </WorkBeside>
</template>
