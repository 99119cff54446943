<script setup lang="ts">
import { PAIR_STATES, type PairLine, type PairState } from '#core/contract/case-pairs'
import { UNITS_HERE } from '~/units/useUnits'

/** Cases that may be one subject: the likeliest first, each with both files beside each other. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { load: registersLoad, byCode: registers } = useRegisters()
const { titleOfSide } = useCaseLines(code => registers.value.get(code), units)
const state = ref<PairState>('open')
const states = computed(() => PAIR_STATES.map(value => ({ value, label: t(`pairs.state.${value}`) })))
const load = usePages(
  (after?: PairLine) => callApi('GET /api/case-pairs', { query: { state: state.value, after: after?.id } }),
  () => state.value,
)
const chosen = computed(() => (typeof route.query.pair === 'string' ? route.query.pair : null))
const choose = (id: string) => router.replace({ query: { pair: id } })
const file = useLoad(
  async () => (chosen.value ? callApi('GET /api/case-pairs/:id', { params: { id: chosen.value } }) : null),
  () => chosen.value,
)
const done = () => Promise.all([load.reload(), file.reload()])
/** The facilities of both; one where it is the same. */
const placesOf = ({ one, other }: PairLine) =>
  [...new Map([one, other].map(({ unit }) => [unit.code, unit.name])).values()].join(' / ')
</script>

<template>
  <WorkBeside
    v-model="state"
    :title="t('pairs.title')"
    :load="load"
    :names="registersLoad"
    :filters="states"
    :chosen="chosen"
    :none="t('pairs.none')"
    :one="t('pairs.one')"
    @choose="choose"
  >
    <template #line="{ one: pair }">
      <strong>{{ titleOfSide(pair.one) }}</strong>
      <span>{{ titleOfSide(pair.other) }}</span>
      <span class="small quiet"
        >{{ t('pairs.likeness', { share: words.percent(pair.score) }) }} · {{ placesOf(pair) }}</span
      >
    </template>
    <LoadState v-slot="{ data }" :load="file"
      ><PairDetail v-if="data?.line.id === chosen" :key="chosen!" :file="data" @done="done"
    /></LoadState>
  </WorkBeside>
</template>
