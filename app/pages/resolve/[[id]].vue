<script setup lang="ts">
import { DISCREPANCY_FILTERS, type DiscrepancyFilter } from '#core/contract/discrepancies'

// One page for all ids: the list, its filter and its place stay when another discrepancy is opened.
definePageMeta({ key: 'resolve' })

/** The work list beside the discrepancy that is open, as in a mail program. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
useHead({ title: () => `${t('place.resolve')} · Eastward Lantern` })

const { asked, ask } = useAsked(['round', 'filter'])
const filter = computed(() => DISCREPANCY_FILTERS.find(one => one === asked.value.filter) ?? 'unsettled')
/** One round, where the address names one. */
const round = computed(() => asked.value.round)
const list = usePages(
  (after?: { id: string }) =>
    callApi('GET /api/discrepancies', {
      query: {
        unit: session.district ?? undefined,
        round: round.value,
        filter: filter.value,
        after: after?.id,
      },
    }),
  () => [session.district, round.value, filter.value],
)
const lines = computed(() => list.data.value?.lines ?? [])
const roundRef = computed(() => lines.value.find(line => line.round.id === round.value)?.round)
const count = (one: DiscrepancyFilter) => list.data.value?.counts[one] ?? 0
const chosen = computed(() => (route.params.id ? String(route.params.id) : (lines.value[0]?.id ?? null)))
const file = useLoad(
  async () => (chosen.value ? callApi('GET /api/discrepancies/:id', { params: { id: chosen.value } }) : null),
  () => chosen.value,
)
const choose = (id: string) => router.push({ path: `/resolve/${id}`, query: route.query })

/** After a settlement the next in the list is at hand; after a question this one stays. */
async function done(settled: boolean) {
  const at = lines.value.findIndex(({ id }) => id === chosen.value)
  const next = settled ? (lines.value[at + 1] ?? lines.value[at - 1]) : undefined
  if (next) await choose(next.id)
  else await file.reload()
  await list.reload()
}
const step = (by: number) => {
  const next = lines.value[lines.value.findIndex(({ id }) => id === chosen.value) + by]
  if (next) void choose(next.id)
}
useKeys([
  { key: 'J', says: 'keys.next', run: () => step(1) },
  { key: 'K', says: 'keys.before', run: () => step(-1) },
])
/** Cases that may be one are decided on a page of their own. */
const pairs = useLoad(() => callApi('GET /api/case-pairs', { query: {} }))
/** Those about cases have a page of their own, too. */
const ofCases = useLoad(
  () => callApi('GET /api/case-doubts', { query: { unit: session.district ?? undefined } }),
  () => session.district,
)
</script>

<template>
  <div class="resolve">
    <section class="left" :aria-label="t('place.resolve')">
      <div class="head">
        <!-- No figure before it is known: “0 to resolve” would be a lie. -->
        <h1>
          {{ list.data.value ? t('resolve.title', { count: count('unsettled') }) : t('place.resolve') }}
        </h1>
        <p class="quiet small">{{ t('resolve.order') }}</p>
        <p v-if="round" class="small">
          {{
            roundRef
              ? t('resolve.onlyRound', {
                  name: words.say(roundRef.name),
                  period: words.period(roundRef.period),
                })
              : t('resolve.onlyOne')
          }}
          <NuxtLink to="/resolve">{{ t('resolve.allRounds') }}</NuxtLink>
        </p>
        <p v-if="pairs.data.value?.counts.open" class="small">
          <NuxtLink to="/resolve/pairs">{{
            t('pairs.toDecide', { count: pairs.data.value.counts.open }, pairs.data.value.counts.open)
          }}</NuxtLink>
        </p>
        <p v-if="ofCases.data.value?.counts.unsettled" class="small">
          <NuxtLink to="/resolve/cases">{{
            t(
              'caseDoubts.toResolve',
              { count: ofCases.data.value.counts.unsettled },
              ofCases.data.value.counts.unsettled,
            )
          }}</NuxtLink>
        </p>
        <div v-if="list.data.value" class="filters">
          <button
            v-for="one in DISCREPANCY_FILTERS"
            :key="one"
            type="button"
            :aria-pressed="filter === one"
            :class="[one, { on: filter === one }]"
            @click="ask({ filter: one })"
          >
            {{ t(`resolve.filter.${one}`) }} {{ count(one) }}
          </button>
        </div>
      </div>
      <LoadState :load="list" :empty="lines.length === 0" :empty-text="t('resolve.none')">
        <DiscrepancyList :lines="lines" :chosen="chosen" @choose="choose" />
        <ShowMore :more="list.data.value?.more" @show="list.showMore()" />
      </LoadState>
    </section>
    <section v-if="chosen" class="right" :aria-label="t('resolve.one')">
      <!-- What is still shown of the one before must not be worked on. -->
      <LoadState v-slot="{ data }" :load="file"
        ><DiscrepancyDetail v-if="data.line.id === chosen" :file="data" @done="done"
      /></LoadState>
    </section>
  </div>
</template>

<style scoped>
.resolve {
  display: grid;
  grid-template-columns: minmax(300px, 400px) minmax(0, 1fr);
  min-height: calc(100vh - 52px);
}
.left {
  position: sticky;
  top: 52px;
  height: calc(100vh - 52px);
  overflow-y: auto;
  border-right: 1px solid var(--line);
  background: var(--card);
}
.head {
  padding: 16px 18px 12px;
  border-bottom: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.head h1 {
  font-size: 21px;
}
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.filters button {
  padding: 3px 9px;
  border: 1px solid transparent;
  border-radius: 7px;
  background: var(--sand);
  color: var(--ink-7);
  font: 600 13px var(--body);
  cursor: pointer;
}
.filters .mustFix {
  background: var(--brick-1);
  color: var(--brick-7);
}
.filters .explain {
  background: var(--amber-1);
  color: var(--amber-7);
}
.filters button.on {
  background: var(--plum-7);
  color: var(--card);
}
@media (width < 900px) {
  .resolve {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    position: static;
    height: auto;
  }
}
</style>
