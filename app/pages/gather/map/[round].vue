<script setup lang="ts">
import type { BoardRow } from '#core/contract/rounds'
import type { LanternSign } from '#core/report/state'
import { roundMap } from '~/rounds/roundMap'

/** A round on the map, with the facilities beside it: for choosing whom to call and where to drive. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const roundId = computed(() => String(route.params.round))
const unit = computed(() => session.district ?? undefined)
const board = useLoad(
  () =>
    callApi('GET /api/rounds/:round/board', {
      params: { round: roundId.value },
      query: { unit: unit.value },
    }),
  () => [roundId.value, unit.value],
)
const places = useLoad(
  () => callApi('GET /api/map', { query: { unit: unit.value } }),
  () => unit.value,
)
const { asked, ask } = useAsked(['sign', 'unit'])
const rows = computed(() => board.data.value?.rows ?? [])
const SIGNS: readonly LanternSign[] = ['overdue', 'awaited', 'draft', 'sentBack', 'sent', 'accepted']
/** Which state is asked for; null shows all. */
const sign = computed({
  get: () => SIGNS.find(one => one === asked.value.sign) ?? null,
  set: one => void ask({ sign: one }),
})
const countOf = (one: LanternSign) => rows.value.filter(row => row.sign === one).length
const signs = computed(() => [
  { value: null, label: `${t('boardView.show.all')} ${rows.value.length}` },
  ...SIGNS.filter(countOf).map(value => ({ value, label: `${t(`state.${value}`)} ${countOf(value)}` })),
])
const shown = computed(() => rows.value.filter(row => sign.value === null || row.sign === sign.value))
const shownCodes = computed(() => new Set(shown.value.map(one => one.unit.code)))
const map = computed(() => (places.data.value ? roundMap(places.data.value, rows.value) : null))
const chosen = computed(() => asked.value.unit ?? null)
const choose = (code: string) => ask({ unit: code })
const list = useTemplateRef('list')
watch(chosen, async () => {
  await nextTick()
  list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' })
})
const stateText = (row: BoardRow) =>
  [t(`state.${row.sign}`), row.daysLate ? t('board.late', { days: row.daysLate }) : '']
    .filter(Boolean)
    .join(', ')
const go = (round: string) => router.push({ path: `/gather/map/${round}`, query: route.query })
</script>

<template>
  <div class="page">
    <h1 v-if="!board.data.value" class="visually-hidden">{{ t('roundMap.title') }}</h1>
    <LoadState
      v-slot="{ data }"
      :load="board"
      :empty="board.data.value?.rows.length === 0"
      :empty-text="t('board.empty')"
    >
      <PageHead :title="t('roundMap.title')">
        <RoundPicker :round="data.round" @go="go" />
        <NuxtLink :to="`/gather/${data.round.id}`">{{ t('act.toBoard') }}</NuxtLink>
      </PageHead>
      <FilterButtons v-model="sign" class="signs" :label="t('boardView.showLabel')" :options="signs" />
      <div class="beside">
        <LoadState :load="places">
          <RoundMap
            v-if="map"
            :map="map"
            :shown="shownCodes"
            :chosen="chosen"
            :name="data.unit.name"
            @choose="choose"
          />
          <p v-if="map && !map.outlines.length" class="small quiet">{{ t('roundMap.noOutline') }}</p>
          <p v-if="map?.unplaced.length" class="small quiet">
            {{ t('roundMap.unplaced', { names: map.unplaced.map(one => one.unit.name).join(', ') }) }}
          </p>
        </LoadState>
        <ul ref="list" class="card plain-list places" :aria-label="t('boardView.list')">
          <li
            v-for="one in shown"
            :key="one.unit.code"
            :class="{ on: one.unit.code === chosen }"
            :aria-current="one.unit.code === chosen ? 'true' : undefined"
          >
            <button type="button" @click="choose(one.unit.code)">
              <LanternSign :sign="one.sign" :size="17" />
              <span
                ><strong>{{ one.unit.name }}</strong>
                <span class="small quiet">{{ one.zone.name }} · {{ stateText(one) }}</span></span
              >
            </button>
            <span v-if="one.unit.code === chosen" class="row small links">
              <NuxtLink :to="facilityLink(data.round.id, one.unit.code)">{{ t('roundMap.report') }}</NuxtLink>
              <NuxtLink :to="facilityFileLink(one.unit.code)">{{ t('facility.title') }}</NuxtLink>
            </span>
          </li>
        </ul>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.signs {
  margin-bottom: 10px;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(260px, 340px);
  gap: 16px;
  align-items: start;
}
.places {
  max-height: calc(100vh - 190px);
  overflow: auto;
  padding: 6px;
}
.places button {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: 40px;
  padding: 4px 8px;
  border: 0;
  background: none;
  font: inherit;
  text-align: left;
  color: inherit;
  cursor: pointer;
}
.places .small.quiet {
  display: block;
}
.places li.on {
  border-radius: 8px;
  background: var(--amber-1);
}
.links {
  padding: 0 8px 8px 36px;
  gap: 16px;
}
@media (width < 900px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
