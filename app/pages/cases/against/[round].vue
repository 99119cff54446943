<script setup lang="ts">
import type { CountedRow } from '#core/contract/case-counts'
import { UNITS_HERE } from '~/units/useUnits'

/** The reports of a round against the registers of their facilities: where they differ, and by which cases. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const round = computed(() => String(route.params.round))
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const session = useSession()
const load = useLoad(
  () =>
    callApi('GET /api/rounds/:round/case-counts', {
      params: { round: round.value },
      query: { unit: session.district ?? undefined },
    }),
  () => [round.value, session.district],
)
const onlyDiffering = ref(true)
const rows = computed(() =>
  (load.data.value?.rows ?? []).filter(
    ({ verdict }) => !onlyDiffering.value || verdict === 'reportHigher' || verdict === 'registerHigher',
  ),
)
const nameOf = (code: string) =>
  words.say(load.data.value?.counts.find(one => one.code === code)?.name ?? { en: code })
const chosen = computed(() => {
  const [count, unit] = typeof route.query.open === 'string' ? route.query.open.split('~') : []
  return count && unit ? { count, unit } : null
})
const open = (row: CountedRow) => router.replace({ query: { open: `${row.count}~${row.unit.code}` } })
const difference = (row: CountedRow) => (row.reported === null ? null : row.registered - row.reported)
const signed = (value: number | null) =>
  value === null
    ? '–'
    : value > 0
      ? `+${words.number(value)}`
      : value < 0
        ? `−${words.number(-value)}`
        : words.number(value)
const TONES = { equal: 'moss', reportHigher: 'amber', registerHigher: 'brick', notJudged: 'plain' } as const
</script>

<template>
  <div class="page">
    <h1 v-if="!load.data.value" class="visually-hidden">{{ t('caseCounts.title') }}</h1>
    <LoadState
      v-slot="{ data }"
      :load="load"
      :empty="load.data.value?.counts.length === 0"
      :empty-text="t('caseCounts.notHeld')"
    >
      <PageHead :title="t('caseCounts.title')"
        ><NuxtLink :to="`/gather/${data.round.id}`"
          >{{ words.say(data.round.name) }}, {{ words.period(data.round.period) }}</NuxtLink
        ></PageHead
      >
      <p class="row chosen">
        <Button
          size="small"
          :severity="onlyDiffering ? 'primary' : 'secondary'"
          :outlined="!onlyDiffering"
          :aria-pressed="onlyDiffering"
          :label="t('caseCounts.onlyDiffering')"
          @click="onlyDiffering = !onlyDiffering"
        />
        <span role="status">{{ t('caseCounts.shown', { count: rows.length, all: data.rows.length }) }}</span>
      </p>
      <div :class="{ beside: chosen }">
        <DataTable :value="rows" :data-key="(row: CountedRow) => `${row.count}~${row.unit.code}`">
          <template #empty>{{ t('caseCounts.allAgree') }}</template>
          <Column :header="t('tryOut.facility')"
            ><template #body="{ data: row }"
              ><button
                type="button"
                class="textual"
                :aria-expanded="chosen?.unit === row.unit.code && chosen?.count === row.count"
                @click="open(row)"
              >
                <strong>{{ row.unit.name }}</strong>
              </button>
              <p class="small quiet">{{ nameOf(row.count) }}</p></template
            ></Column
          >
          <Column :header="t('caseCounts.reported')" class="num"
            ><template #body="{ data: row }">{{ words.number(row.reported) }}</template></Column
          >
          <Column :header="t('caseCounts.registered')" class="num"
            ><template #body="{ data: row }">{{ words.number(row.registered) }}</template></Column
          >
          <Column :header="t('caseCounts.difference')"
            ><template #body="{ data: row }"
              ><strong>{{ signed(difference(row)) }}</strong
              >{{ ' '
              }}<WordTag :tone="TONES[(row as CountedRow).verdict]">{{
                t(`caseCounts.verdict.${row.verdict}`)
              }}</WordTag>
              <p v-if="row.agreedWhenSent" class="small quiet">
                {{ t('caseCounts.agreedWhenSent') }}
              </p></template
            ></Column
          >
        </DataTable>
        <CaseCountDetail
          v-if="chosen"
          :key="`${chosen.count} ${chosen.unit}`"
          :round="round"
          v-bind="chosen"
        />
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 1fr);
  gap: 16px;
  align-items: start;
}
.chosen {
  margin: 0 0 10px;
  align-items: center;
}
.page :deep(.num) {
  text-align: right;
}
.page :deep(td) {
  padding-block: 6px;
}
@media (width < 1024px) {
  .beside {
    grid-template-columns: 1fr;
  }
}
</style>
