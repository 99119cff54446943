<script setup lang="ts">
import type { Today } from '#core/contract/rounds'

/** A round that is open: how far it is, and what needs somebody. Each figure opens just what it counts. */
const { open, earlier, place } = defineProps<{
  open: Today['rounds'][number]
  /** Earlier rounds of the dataset that have not closed. */
  earlier: Today['rounds']
  /** The branch that is counted. */
  place: string
}>()
const words = useWords()
const { t } = words
const board = (show?: string) => ({
  path: `/gather/${open.round.id}`,
  query: show ? { show } : {},
})
const doubts = (filter: string) => ({ path: '/resolve', query: { round: open.round.id, filter } })
const needs = computed(() => [
  { key: 'answered', count: open.answered, to: doubts('answered') },
  { key: 'unsettled', count: open.mustFix + open.explain, to: doubts('toSettle') },
  { key: 'toAccept', count: open.toAccept, to: board('toAccept') },
  { key: 'overdue', count: open.overdue, to: board('overdue') },
])
const isSigned = computed(() => open.state === 'signed' || open.state === 'amended')
const earlierText = (one: Today['rounds'][number]) =>
  t('today.line', {
    received: one.reporting.received,
    expected: one.reporting.expected,
    due: words.dueDay(one.round.dueAt),
  })
const toSettle = (one: Today['rounds'][number]) => one.mustFix + one.explain
</script>

<template>
  <section class="card round">
    <div class="spread head">
      <div>
        <h2>{{ words.say(open.round.name) }}, {{ words.period(open.round.period) }}</h2>
        <p class="quiet small">
          {{ place }} · {{ t('round.due', { day: words.dueDay(open.round.dueAt) }) }} ·
          {{ t('today.closes', { day: words.dueDay(open.round.closesAt) }) }}
        </p>
      </div>
      <NuxtLink :to="board()"
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
      <NuxtLink :to="board('overdue')">
        <span class="figure brick">{{ open.overdue }}</span>
        <p class="small quiet">{{ t('state.overdue') }}</p>
      </NuxtLink>
      <NuxtLink :to="doubts('mustFix')">
        <span class="figure brick">{{ open.mustFix }}</span>
        <p class="small quiet">{{ t('strength.mustFix') }}</p>
      </NuxtLink>
      <NuxtLink :to="doubts('explain')">
        <span class="figure amber">{{ open.explain }}</span>
        <p class="small quiet">{{ t('strength.explain') }}</p>
      </NuxtLink>
    </div>
    <h3>{{ t('today.needs') }}</h3>
    <ul>
      <template v-for="one in needs" :key="one.key">
        <li v-if="one.count">
          <NuxtLink :to="one.to">{{ t(`today.${one.key}`, { count: one.count }, one.count) }}</NuxtLink>
        </li>
      </template>
      <li v-if="!open.reporting.received">{{ t('today.noneIn') }}</li>
      <li v-if="open.state === 'ready'">
        <NuxtLink :to="`/report/${open.round.id}`">{{
          t('today.ready', { received: open.reporting.received, expected: open.reporting.expected })
        }}</NuxtLink>
      </li>
      <li v-if="isSigned">
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
          <NuxtLink :to="`/gather/${one.round.id}`">{{ words.period(one.round.period) }}</NuxtLink>{{ ' ' }}
          <span class="quiet small"
            >{{ earlierText(one)
            }}<template v-if="toSettle(one)">
              · {{ t('today.unsettled', { count: toSettle(one) }, toSettle(one)) }}</template
            ></span
          >
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.round {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.head {
  flex-wrap: nowrap;
  align-items: start;
}
.head > a {
  flex: none;
}
.figures {
  display: flex;
  gap: 36px;
  flex-wrap: wrap;
}
.figures a {
  color: inherit;
  text-decoration: none;
}
.figures a:hover p {
  text-decoration: underline;
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
