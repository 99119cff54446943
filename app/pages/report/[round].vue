<script setup lang="ts">
/** A district's figures of one round: completeness, what blocks, signing, and the file to send on. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const roundId = computed(() => String(route.params.round))
const unit = computed(() => session.district ?? undefined)
/** All districts at once have no report: each is signed by its own officer. */
const isWhole = computed(() => session.district === null && (session.view?.districts.length ?? 0) > 1)
/** The signature whose figures are shown; the newest when nothing is chosen. */
const amendment = ref<number>()
watch(roundId, () => {
  amendment.value = undefined
})
const report = useLoad(
  async () =>
    isWhole.value
      ? null
      : callApi('GET /api/district-reports/:round', {
          params: { round: roundId.value },
          query: { unit: unit.value, amendment: amendment.value },
        }),
  () => [roundId.value, unit.value, amendment.value],
)
const csv = computed(() =>
  addressOf('GET /api/district-reports/:round/csv', {
    params: { round: roundId.value },
    query: { unit: unit.value, language: words.locale.value },
  }),
)
</script>

<template>
  <div class="page">
    <h1 v-if="isWhole || !report.data.value" class="visually-hidden">{{ t('place.report') }}</h1>
    <p v-if="isWhole" class="quiet">{{ t('problem.not-a-district') }}</p>
    <LoadState v-else v-slot="{ data }" :load="report">
      <PageHead :title="t('figures.title', { district: data.figures.unit.name })">
        <RoundPicker :round="data.figures.round" @go="id => router.push(`/report/${id}`)" />
        <WordTag :tone="data.signatures.length ? 'moss' : data.blocking.length ? 'brick' : 'amber'">{{
          t(`districtReport.${data.state}`)
        }}</WordTag>
        <template #acts
          ><a class="download" :href="csv" download
            ><i class="pi pi-download" aria-hidden="true" /> {{ t('figures.csv') }}</a
          ></template
        >
      </PageHead>
      <div class="split">
        <div class="stack">
          <div class="card tops">
            <div>
              <span class="figure">{{ words.percent(data.figures.reporting.completeness) }}</span>
              <p class="small quiet">
                {{
                  t('figures.completeness', {
                    received: data.figures.reporting.received,
                    expected: data.figures.reporting.expected,
                  })
                }}
              </p>
            </div>
            <div>
              <span class="figure">{{ words.percent(data.figures.reporting.timeliness) }}</span>
              <p class="small quiet">
                {{
                  t('figures.timeliness', {
                    onTime: data.figures.reporting.onTime,
                    expected: data.figures.reporting.expected,
                  })
                }}
              </p>
            </div>
            <div
              v-for="rate in data.figures.indicators"
              :key="rate.code"
              :title="`${words.number(rate.numerator, 1)} / ${words.number(rate.denominator, 1)} × ${rate.factor}`"
            >
              <span class="figure"
                >{{ words.number(rate.value, 1) }}<small> {{ words.say(rate.unitOfMeasure) }}</small></span
              >
              <p class="small quiet">
                {{
                  words.pair(
                    words.say(rate.name),
                    `${words.number(rate.numerator, 1)} / ${words.number(rate.denominator, 1)} × ${words.number(rate.factor)}`,
                  )
                }}
              </p>
            </div>
          </div>
          <section v-for="section in data.figures.sections" :key="section.code" class="stack">
            <h2>{{ words.say(section.name) }}</h2>
            <FigureTable :lines="section.lines" :expected="data.figures.reporting.expected" />
          </section>
          <LongerCard :key="roundId" :round="roundId" :unit="unit" />
        </div>
        <div class="stack">
          <SignCard
            :report="data"
            @signed="report.reload()"
            @show="
              one => {
                amendment = one ?? undefined
              }
            "
          />
          <SendCard
            :key="roundId"
            :round="roundId"
            :unit="data.figures.unit.code"
            :dataset="data.figures.round.dataset"
            :signatures="data.signatures.length"
          />
        </div>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 18px;
  align-items: start;
}
.tops {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px 22px;
}
.tops small {
  margin-left: 4px;
  font: 600 13px var(--body);
  color: var(--ink-5);
}
.download {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  min-height: 36px;
  padding: 0 14px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--card);
  font-weight: 600;
  text-decoration: none;
}
@media (width < 1000px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
