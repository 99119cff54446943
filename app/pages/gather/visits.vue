<script setup lang="ts">
import { VISIT_STATES, type VisitLine, type VisitMove, type VisitProposal } from '#core/contract/visits'

/** Where to drive, and why; which visits are planned; and what came of those that were made. */
const words = useWords()
const { t } = words
const session = useSession()
const SHOWS = ['toVisit', ...VISIT_STATES] as const
const { asked, ask } = useAsked(['show'])
const show = computed({
  get: () => SHOWS.find(one => one === asked.value.show) ?? 'toVisit',
  set: one => void ask({ show: one }),
})
const unit = computed(() => session.district ?? undefined)
/** The order changes with the data: how many were shown is where the next page begins. */
let skip = 0
const proposals = usePages(
  async (after: VisitProposal | undefined) => {
    skip = after ? skip : 0
    const page = await callApi('GET /api/visit-proposals', { query: { unit: unit.value, skip } })
    skip += page.lines.length
    return page
  },
  () => unit.value,
)
const state = computed(() => VISIT_STATES.find(one => one === show.value) ?? 'planned')
const visits = usePages(
  (after: VisitLine | undefined) =>
    callApi('GET /api/visits', { query: { unit: unit.value, show: state.value, after: after?.id } }),
  () => `${unit.value} ${state.value}`,
)
const countOf = (one: (typeof SHOWS)[number]) =>
  one === 'toVisit' ? proposals.data.value?.counts.withReason : visits.data.value?.counts[one]
const options = computed(() =>
  SHOWS.map(value => ({ value, label: `${t(`visits.show.${value}`)} ${words.number(countOf(value) ?? 0)}` })),
)
const isToVisit = computed(() => show.value === 'toVisit')

/** What is asked in the dialog. */
const asking = shallowRef<{ unit: VisitLine['unit']; visit: string | null; to: VisitMove['to'] } | null>(null)
const isAsking = ref(false)
function openDialog(of: NonNullable<typeof asking.value>) {
  asking.value = of
  isAsking.value = true
}
const reload = () => Promise.all([proposals.reload(), visits.reload()])
</script>

<template>
  <div class="page">
    <PageHead :title="t('visits.title')">
      <NuxtLink to="/gather">{{ t('act.toBoard') }}</NuxtLink>
      <NuxtLink to="/gather/verification">{{ t('verification.title') }}</NuxtLink>
    </PageHead>
    <div class="stack">
      <FilterButtons v-model="show" :label="t('visits.title')" :options="options" />
      <LoadState
        v-if="isToVisit"
        v-slot="{ data }"
        :load="proposals"
        :empty="proposals.data.value?.lines.length === 0"
        :empty-text="t('visits.noReason')"
      >
        <p class="quiet small">{{ t('visits.order') }}</p>
        <ProposalTable
          :lines="data.lines"
          @plan="one => openDialog({ unit: one.unit, visit: null, to: 'planned' })"
        />
        <ShowMore :more="data.more" @show="proposals.showMore()" />
      </LoadState>
      <LoadState
        v-else
        v-slot="{ data }"
        :load="visits"
        :empty="visits.data.value?.lines.length === 0"
        :empty-text="t(`visits.none.${state}`)"
      >
        <VisitTable
          :lines="data.lines"
          @move="(visit, to) => openDialog({ unit: visit.unit, visit: visit.id, to })"
        />
        <ShowMore :more="data.more" @show="visits.showMore()" />
      </LoadState>
    </div>
    <VisitDialog v-if="asking" v-model:visible="isAsking" v-bind="asking" @done="reload" />
  </div>
</template>
