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
// Who may not see what a figure counts has no line for it.
const devices = session.can('manageDevices')
  ? useLoad(async () => (await callApi('GET /api/devices', { query: {} })).counts)
  : null
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
const nudges = session.can('nudge')
  ? useLoad(
      async () =>
        (await callApi('GET /api/nudges', { query: { unit, show: 'notReached' } })).counts.notReached,
      asOf,
    )
  : null
const visits = session.can('visit')
  ? useLoad(async () => (await callApi('GET /api/visits', { query: { unit } })).counts.planned, asOf)
  : null
const lines = computed(() =>
  [
    {
      key: 'silent',
      load: devices,
      count: devices?.data.value?.silent,
      to: { path: '/devices', query: { show: 'silent' } },
    },
    {
      key: 'silentWaiting',
      load: devices,
      count: devices?.data.value?.silentWaiting,
      to: { path: '/devices', query: { show: 'silentWaiting' } },
    },
    {
      key: 'registered',
      load: registered,
      count: registered.data.value,
      to: { path: '/cases', query: { receivedFrom: since.value } },
    },
    { key: 'pairs', load: pairs, count: pairs.data.value, to: { path: '/resolve/pairs' } },
    {
      key: 'caseDoubts',
      load: doubts,
      count: doubts.data.value,
      to: { path: '/resolve/cases', query: { filter: 'toSettle' } },
    },
    {
      key: 'notReached',
      load: nudges,
      count: nudges?.data.value,
      to: { path: '/gather/nudges', query: { show: 'notReached' } },
    },
    {
      key: 'visits',
      load: visits,
      count: visits?.data.value,
      to: { path: '/gather/visits', query: { show: 'planned' } },
    },
  ].filter(({ load }) => load !== null),
)
const problem = computed(
  () =>
    [devices, pairs, doubts, registered, nudges, visits].find(load => load?.problem.value)?.problem.value ??
    null,
)
</script>

<template>
  <section class="card" aria-labelledby="today-work">
    <h2 id="today-work">{{ t('todayWork.title') }}</h2>
    <ProblemNote :problem="problem" />
    <ul class="plain-list">
      <!-- Each line stands from the start: what came later would push the list below from under the mouse. -->
      <li v-for="{ key, load, count, to } in lines" :key="key">
        <NuxtLink :to="to" class="spread"
          ><span>{{ t(`todayWork.${key}`) }}</span
          ><strong v-if="typeof count === 'number'" :class="{ none: !count }">{{
            words.number(count)
          }}</strong
          ><Skeleton v-else-if="load?.loading.value" width="2ch" height="1em" /><span v-else class="quiet"
            >–</span
          ></NuxtLink
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
