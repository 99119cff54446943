<script setup lang="ts">
import { dateFormat } from '#core/formats'
import { groupBy } from '#core/group-by'

/** Today: which rounds are open, how many reports are in, and what needs somebody. */
const words = useWords()
const { t } = words
const session = useSession()
const unit = computed(() => session.district ?? undefined)
const today = useLoad(
  () => callApi('GET /api/today', { query: { unit: unit.value } }),
  () => unit.value,
)
/** The work list begins with these. */
const LARGEST = 6
const router = useRouter()
const doubts = useLoad(
  () => callApi('GET /api/discrepancies', { query: { unit: unit.value, filter: 'toSettle' } }),
  () => unit.value,
)
const largest = computed(() => (doubts.data.value?.lines ?? []).slice(0, LARGEST))
/** Of each dataset its newest open round, with the earlier ones under it. */
const groups = computed(() =>
  [...groupBy(today.data.value?.rounds ?? [], ({ round }) => round.dataset).values()].map(
    ([open, ...earlier]) => ({ open: open!, earlier }),
  ),
)
const hello = computed(() =>
  t('today.title', {
    day: dateFormat(words.locale.value === 'en' ? 'en-GB' : words.locale.value, {
      weekday: 'long',
      day: 'numeric',
      month: 'long',
      timeZone: session.view?.timeZone,
    }).format(clockNow()),
  }),
)
</script>

<template>
  <div class="page">
    <PageHead :title="hello" />
    <LoadState
      v-slot="{ data }"
      :load="today"
      :empty="today.data.value?.rounds.length === 0 && !today.data.value.start && !session.isLimited"
      :empty-text="t('today.empty')"
    >
      <div class="columns">
        <div class="stack">
          <FirstSteps v-if="data.start" :steps="data.start" />
          <WaitingReports :title="t('today.late')" :reports="data.late" says="late.count" />
          <WaitingReports :title="t('today.conflicts')" :reports="data.conflicts" says="conflicts.count" />
          <RoundToday
            v-for="{ open, earlier } in groups"
            :key="open.round.id"
            :open="open"
            :earlier="earlier"
            :place="data.unit?.name ?? ''"
          />
          <section v-if="data.planted" class="card">
            <h2>{{ t('today.plantedTitle') }}</h2>
            <p>{{ t('today.planted', { ...data.planted }) }}</p>
            <p>{{ t('today.plantedPairs', data.planted.pairs) }}</p>
            <p>{{ t('today.plantedCases', data.planted.cases) }}</p>
          </section>
        </div>
        <div class="stack">
          <TodayWork v-if="data.unit" :unit="unit" />
          <section class="card largest">
            <h2>{{ t('today.largest') }}</h2>
            <LoadState :load="doubts" :empty="!largest.length" :empty-text="t('resolve.none')">
              <DiscrepancyList
                :lines="largest"
                :chosen="null"
                @choose="id => router.push(`/resolve/${id}`)"
              />
            </LoadState>
          </section>
          <LastActs :acts="data.lastActs" />
        </div>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(320px, 2fr);
  gap: 16px;
  align-items: start;
}
.largest {
  padding: 14px 0 0;
  overflow: hidden;
}
.largest h2 {
  padding: 0 18px 10px;
  border-bottom: 1px solid var(--line);
}
@media (width < 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
