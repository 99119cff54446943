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
  () => callApi('GET /api/discrepancies', { query: { unit: unit.value, filter: 'unsettled' } }),
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
      :empty="today.data.value?.rounds.length === 0 && !today.data.value.start"
      :empty-text="t('today.empty')"
    >
      <div class="columns">
        <div class="stack">
          <FirstSteps v-if="data.start" :steps="data.start" />
          <section v-if="data.late.length" class="card stack">
            <h2>{{ t('today.late') }}</h2>
            <ul>
              <li v-for="one in data.late" :key="one.round.id + one.unit.code">
                <NuxtLink :to="facilityLink(one.round.id, one.unit.code)">{{
                  words.pair(one.unit.name, `${words.say(one.round.name)}, ${words.period(one.round.period)}`)
                }}</NuxtLink>{{ ' ' }}
                <span class="quiet small">{{ t('late.count', { count: one.changes }, one.changes) }}</span>
              </li>
            </ul>
          </section>
          <section v-for="{ open, earlier } in groups" :key="open.round.id" class="card round">
            <div class="spread head">
              <div>
                <h2>{{ words.say(open.round.name) }}, {{ words.period(open.round.period) }}</h2>
                <p class="quiet small">
                  {{ data.unit?.name }} · {{ t('round.due', { day: words.dueDay(open.round.dueAt) }) }}
                </p>
              </div>
              <NuxtLink :to="`/gather/${open.round.id}`"
                ><Button as="span" :label="t('today.board')" severity="secondary" outlined icon="pi pi-inbox"
              /></NuxtLink>
            </div>
            <div class="figures">
              <div>
                <span class="figure">{{ open.reporting.received }}</span>{{ ' ' }}
                <span class="quiet">{{ t('round.of', { count: open.reporting.expected }) }}</span>
                <p class="small quiet">{{ t('round.received') }}</p>
              </div>
              <div>
                <span class="figure">{{ words.percent(open.reporting.timeliness) }}</span>
                <p class="small quiet">{{ t('round.onTime') }}</p>
              </div>
              <div>
                <span class="figure brick">{{ open.overdue }}</span>
                <p class="small quiet">{{ t('state.overdue') }}</p>
              </div>
              <div>
                <span class="figure brick">{{ open.mustFix }}</span>
                <p class="small quiet">{{ t('strength.mustFix') }}</p>
              </div>
              <div>
                <span class="figure amber">{{ open.explain }}</span>
                <p class="small quiet">{{ t('strength.explain') }}</p>
              </div>
            </div>
            <h3>{{ t('today.needs') }}</h3>
            <ul>
              <li v-if="open.answered">
                <NuxtLink :to="`/resolve?round=${open.round.id}`">{{
                  t('today.answered', { count: open.answered }, open.answered)
                }}</NuxtLink>
              </li>
              <li v-if="open.mustFix + open.explain">
                <NuxtLink :to="`/resolve?round=${open.round.id}`">{{
                  t('today.unsettled', { count: open.mustFix + open.explain }, open.mustFix + open.explain)
                }}</NuxtLink>
              </li>
              <li v-if="open.toAccept">
                <NuxtLink :to="`/gather/${open.round.id}`">{{
                  t('today.toAccept', { count: open.toAccept }, open.toAccept)
                }}</NuxtLink>
              </li>
              <li v-if="open.overdue">
                <NuxtLink :to="`/gather/${open.round.id}`">{{
                  t('today.overdue', { count: open.overdue }, open.overdue)
                }}</NuxtLink>
              </li>
              <li v-if="!open.reporting.received">{{ t('today.noneIn') }}</li>
              <li v-if="open.state === 'ready'">
                <NuxtLink :to="`/report/${open.round.id}`">{{
                  t('today.ready', { received: open.reporting.received, expected: open.reporting.expected })
                }}</NuxtLink>
              </li>
              <li v-if="open.state === 'signed' || open.state === 'amended'">
                <NuxtLink :to="`/report/${open.round.id}`"
                  >{{ t(`today.${open.state}`)
                  }}<template v-if="open.changedSince"
                    >: {{ t('sign.changedSince', { count: open.changedSince }, open.changedSince) }}</template
                  ></NuxtLink
                >
              </li>
            </ul>
            <details v-if="earlier.length">
              <summary>{{ t('today.earlier', { count: earlier.length }, earlier.length) }}</summary>
              <ul class="earlier">
                <li v-for="one in earlier" :key="one.round.id">
                  <NuxtLink :to="`/gather/${one.round.id}`">{{ words.period(one.round.period) }}</NuxtLink>{{
                    ' '
                  }}
                  <span class="quiet small"
                    >{{
                      t('today.line', {
                        received: one.reporting.received,
                        expected: one.reporting.expected,
                        due: words.dueDay(one.round.dueAt),
                      })
                    }}<template v-if="one.mustFix + one.explain">
                      ·
                      {{
                        t('today.unsettled', { count: one.mustFix + one.explain }, one.mustFix + one.explain)
                      }}</template
                    ></span
                  >
                </li>
              </ul>
            </details>
          </section>
          <section v-if="data.planted" class="card">
            <h2>{{ t('today.plantedTitle') }}</h2>
            <p>{{ t('today.planted', { ...data.planted }) }}</p>
            <p>{{ t('today.plantedPairs', data.planted.pairs) }}</p>
            <p>{{ t('today.plantedCases', data.planted.cases) }}</p>
          </section>
        </div>
        <section class="card largest">
          <h2>{{ t('today.largest') }}</h2>
          <LoadState :load="doubts" :empty="!largest.length" :empty-text="t('resolve.none')">
            <DiscrepancyList :lines="largest" :chosen="null" @choose="id => router.push(`/resolve/${id}`)" />
          </LoadState>
        </section>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.head {
  flex-wrap: nowrap;
  align-items: start;
}
.head > a {
  flex: none;
}
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
.round {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
@media (width < 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
.figures {
  display: flex;
  gap: 36px;
  flex-wrap: wrap;
}
.brick {
  color: var(--brick-7);
}
.amber {
  color: var(--amber-7);
}
.earlier {
  padding-top: 8px;
}
ul {
  margin: 0;
  padding-left: 18px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
