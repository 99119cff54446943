<script setup lang="ts">
/** Counts a report of a facility again: which one, what of it, and how it compares. */
const words = useWords()
const { t } = words
const route = useRoute()
const unit = computed(() => String(route.params.unit))
const { asked, ask } = useAsked(['round', 'visit'])
const session = useSession()
/** Each answer stays in this browser: a telephone that was put away opens the page anew where there is no network. */
const place = (...of: string[]) => ['recount', session.view?.person.id, ...of].join(' ')
const choices = useLoad(
  () =>
    askedOrKept(place(unit.value), async () => {
      const found = await callApi('GET /api/facilities/:unit/recounts', { params: { unit: unit.value } })
      // Only the district's answer begins the week anew.
      session.keepForTheRoad()
      return found
    }),
  () => unit.value,
)
/** What was counted is looked at again; else the newest report is counted. */
const usual = computed(() => {
  const rounds = choices.data.value?.rounds ?? []
  return (rounds.find(({ recounted }) => recounted > 0) ?? rounds[0])?.round.id ?? null
})
const round = computed(() => asked.value.round ?? usual.value)
const chosen = computed({ get: () => round.value ?? '', set: id => void ask({ round: id }) })
const visit = computed(() => asked.value.visit ?? choices.data.value?.planned ?? undefined)
const options = computed(() =>
  (choices.data.value?.rounds ?? []).map(({ round: one, recounted }) => ({
    value: one.id,
    label: [
      `${words.say(one.name)}, ${words.period(one.period)}`,
      ...(recounted ? [t('recount.cells', { count: recounted }, recounted)] : []),
    ].join(' · '),
  })),
)
const sheet = useLoad(
  async () => {
    const params = { round: round.value ?? '', unit: unit.value }
    if (!params.round) return null
    return askedOrKept(place(unit.value, params.round), () =>
      callApi('GET /api/reports/:round/:unit/recount', { params }),
    )
  },
  () => [round.value, unit.value],
)
/** A form is begun anew after what was typed was saved or thrown away. */
const times = ref(0)
async function saved() {
  await Promise.all([sheet.reload(), choices.reload()])
  times.value++
}
</script>

<template>
  <div class="page">
    <h1 v-if="!choices.data.value" class="visually-hidden">{{ t('recount.title') }}</h1>
    <LoadState
      v-slot="{ data }"
      :load="choices"
      :empty="choices.data.value?.rounds.length === 0"
      :empty-text="t('recount.noReport')"
    >
      <PageHead :title="t('recount.titleOf', { unit: data.unit.name })">
        <NuxtLink :to="facilityFileLink(data.unit.code)">{{ t('facility.title') }}</NuxtLink>
        <NuxtLink to="/gather/visits">{{ t('visits.title') }}</NuxtLink>
        <NuxtLink
          v-for="register in data.registers"
          :key="register.code"
          :to="{ path: '/cases/fill', query: { register: register.code, unit: data.unit.code } }"
          >{{ t('recount.fill', { form: words.say(register.name) }) }}</NuxtLink
        >
      </PageHead>
      <PickOne
        v-model="chosen"
        class="round"
        input-id="recount-round"
        :label="t('recount.report')"
        :options="options"
      />
      <LoadState v-slot="{ data: one }" :load="sheet">
        <div v-if="one" class="columns">
          <RecountForm
            :key="`${one.round.id} ${times}`"
            :sheet="one"
            :visit="visit"
            @saved="saved"
            @discarded="times++"
          />
          <RecountResult :sheet="one" @changed="saved" />
        </div>
      </LoadState>
    </LoadState>
  </div>
</template>

<style scoped>
.round {
  margin-bottom: 12px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
@media (width < 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
