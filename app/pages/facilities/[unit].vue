<script setup lang="ts">
/** All that is known of a facility, for who calls it or drives there. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const unit = computed(() => String(route.params.unit))
const params = computed(() => ({ unit: unit.value }))
const facility = useLoad(
  () => callApi('GET /api/facilities/:unit', { params: params.value }),
  () => unit.value,
)
const doubts = useLoad(
  () => callApi('GET /api/discrepancies', { query: { unit: unit.value, filter: 'toSettle' } }),
  () => unit.value,
)
const nudges = useLoad(
  async () => (session.can('nudge') ? callApi('GET /api/nudges', { query: { unit: unit.value } }) : null),
  () => unit.value,
)
/** What stands here; the whole lists have pages of their own. */
const MOST = 8
const MOST_NUDGES = 5
const { problem, run } = useAct()
const stop = (id: string) =>
  run(async () => {
    await callApi('POST /api/nudges/stop', { body: { ids: [id] } })
    await nudges.reload()
  })
/** The last round of each dataset that has not closed, and in which its report is missing. */
const missing = computed(() =>
  (facility.data.value?.reporting ?? []).flatMap(({ rounds, marks }) =>
    rounds
      .filter((round, at) => marks[at]?.sign === 'overdue' && Date.parse(round.closesAt) > clockNow())
      .slice(-1),
  ),
)
const reminding = ref<string | null>(null)
const asking = openWhile(reminding)
</script>

<template>
  <div class="page">
    <h1 v-if="!facility.data.value" class="visually-hidden">{{ t('facility.title') }}</h1>
    <LoadState v-slot="{ data }" :load="facility">
      <PageHead :title="data.unit.name">
        <span class="quiet small"
          >{{
            data.path
              .slice(0, -1)
              .map(one => one.name)
              .join(' › ')
          }}
          · {{ words.usual(data.kind) }}</span
        >
        <WordTag v-if="!data.open" tone="brick">{{ t('facility.closed') }}</WordTag>
        <template #acts
          ><NuxtLink :to="{ path: '/define/units', query: { unit: data.unit.code } }">{{
            t('facility.inTree')
          }}</NuxtLink></template
        >
      </PageHead>
      <ProblemNote :problem="problem" />
      <div class="columns">
        <div class="stack">
          <section class="card" aria-labelledby="reported">
            <h2 id="reported">{{ t('facility.reporting') }}</h2>
            <p v-if="!data.reporting.length" class="quiet">{{ t('facility.reportsNothing') }}</p>
            <FacilityReporting
              v-for="one in data.reporting"
              :key="one.rounds.at(-1)?.id"
              :reporting="one"
              :unit="data.unit.code"
            />
            <p v-if="session.can('nudge') && missing.length" class="row remind">
              <Button
                v-for="round in missing"
                :key="round.id"
                size="small"
                severity="secondary"
                outlined
                icon="pi pi-send"
                :label="
                  t('nudge.about', { round: `${words.say(round.name)}, ${words.period(round.period)}` })
                "
                @click="reminding = round.id"
              />
            </p>
          </section>
          <FacilityVisits v-if="session.can('visit')" :unit="data.unit" />
          <section v-if="session.can('nudge')" class="card stack" aria-labelledby="nudges">
            <div class="spread">
              <h2 id="nudges">{{ t('nudge.log') }}</h2>
              <NuxtLink to="/gather/nudges">{{ t('facility.allNudges') }}</NuxtLink>
            </div>
            <LoadState
              v-slot="{ data: log }"
              :load="nudges"
              :empty="nudges.data.value?.lines.length === 0"
              :empty-text="t('nudge.none')"
            >
              <NudgeTable :lines="log!.lines.slice(0, MOST_NUDGES)" :with-unit="false" @stop="stop" />
            </LoadState>
          </section>
        </div>
        <div class="stack">
          <FacilityContacts :unit="data.unit.code" :contacts="data.contacts" @changed="facility.reload()" />
          <FacilityPeople :facility="data" />
          <section class="card doubts" aria-labelledby="doubts">
            <h2 id="doubts">{{ t('facility.doubts') }}</h2>
            <LoadState
              v-slot="{ data: found }"
              :load="doubts"
              :empty="doubts.data.value?.lines.length === 0"
              :empty-text="t('resolve.none')"
            >
              <DiscrepancyList
                :lines="found.lines.slice(0, MOST)"
                :chosen="null"
                @choose="id => router.push(`/resolve/${id}`)"
              />
              <p v-if="found.lines.length > MOST" class="small quiet more">
                {{ t('facility.moreDoubts', { count: found.lines.length - MOST }) }}
              </p>
            </LoadState>
          </section>
        </div>
      </div>
      <NudgeDialog
        v-if="reminding"
        v-model:visible="asking"
        :round="reminding"
        :units="[data.unit.code]"
        @asked="nudges.reload()"
      />
    </LoadState>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(300px, 2fr);
  gap: 16px;
  align-items: start;
}
.remind {
  flex-wrap: wrap;
  margin-top: 10px;
}
.doubts {
  padding: 14px 0 6px;
  overflow: hidden;
}
.doubts h2,
.more {
  padding: 0 18px 8px;
}
@media (width < 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
