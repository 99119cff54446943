<script setup lang="ts">
import { printDay } from '#core/calendar/day'

/**
 * What waits besides the rounds: devices, registrations, pairs, doubts about cases, reminders. Each figure is that
 * of the list that it opens, asked for by the same filter.
 */
const { unit } = defineProps<{ unit: string | undefined }>()
const words = useWords()
const { t } = words
const session = useSession()
/** So many days back a registration is new. */
const NEW_DAYS = 7
const since = computed(() => printDay(words.today() - NEW_DAYS + 1))
const asOf = () => unit
const devices = useLoad(async () =>
  session.can('manageDevices') ? (await callApi('GET /api/devices', { query: {} })).counts : null,
)
const pairs = useLoad(async () => (await callApi('GET /api/case-pairs', { query: {} })).counts.open)
const doubts = useLoad(
  async () =>
    (await callApi('GET /api/case-doubts', { query: { unit, filter: 'toSettle' } })).counts.toSettle,
  asOf,
)
const registered = useLoad(
  async () =>
    (await callApi('GET /api/cases', { query: { unit, receivedFrom: since.value } })).counts?.found ?? 0,
  asOf,
)
const nudges = useLoad(
  async () =>
    session.can('nudge')
      ? (await callApi('GET /api/nudges', { query: { unit, show: 'notReached' } })).counts.notReached
      : null,
  asOf,
)
const visits = useLoad(
  async () =>
    session.can('visit') ? (await callApi('GET /api/visits', { query: { unit } })).counts.planned : null,
  asOf,
)
const lines = computed(() => {
  const counts = devices.data.value
  return [
    {
      key: 'silent',
      count: counts?.silent,
      to: { path: '/devices', query: { show: 'silent' } },
    },
    {
      key: 'silentWaiting',
      count: counts?.silentWaiting,
      to: { path: '/devices', query: { show: 'silentWaiting' } },
    },
    {
      key: 'registered',
      count: registered.data.value,
      to: { path: '/cases', query: { receivedFrom: since.value } },
    },
    { key: 'pairs', count: pairs.data.value, to: { path: '/resolve/pairs' } },
    {
      key: 'caseDoubts',
      count: doubts.data.value,
      to: { path: '/resolve/cases', query: { filter: 'toSettle' } },
    },
    {
      key: 'notReached',
      count: nudges.data.value,
      to: { path: '/gather/nudges', query: { show: 'notReached' } },
    },
    { key: 'visits', count: visits.data.value, to: { path: '/gather/visits', query: { show: 'planned' } } },
  ].filter(({ count }) => typeof count === 'number')
})
const problem = computed(
  () =>
    [devices, pairs, doubts, registered, nudges, visits].find(one => one.problem.value)?.problem.value ??
    null,
)
</script>

<template>
  <section class="card" aria-labelledby="today-work">
    <h2 id="today-work">{{ t('todayWork.title') }}</h2>
    <ProblemNote :problem="problem" />
    <ul class="plain-list">
      <li v-for="{ key, count, to } in lines" :key="key">
        <NuxtLink :to="to" class="spread"
          ><span>{{ t(`todayWork.${key}`) }}</span
          ><strong :class="{ none: !count }">{{ words.number(count) }}</strong></NuxtLink
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
a {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.none {
  color: var(--ink-5);
  font-weight: 400;
}
</style>
