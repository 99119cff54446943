<script setup lang="ts">
import { NUDGE_SHOWS, type NudgeLine } from '#core/contract/nudges'
import { clockText } from '~/nudges/dayMinutes'

/** Reminders to facilities: what became of each, what they say, and when they are sent. */
const words = useWords()
const { t } = words
const session = useSession()
const { asked, ask } = useAsked(['show'])
const show = computed({
  get: () => NUDGE_SHOWS.find(one => one === asked.value.show) ?? 'all',
  set: one => void ask({ show: one }),
})
const log = usePages(
  (after: NudgeLine | undefined) =>
    callApi('GET /api/nudges', {
      query: { show: show.value, unit: session.district ?? undefined, after: after?.id },
    }),
  () => `${show.value} ${session.district}`,
)
const shows = computed(() =>
  NUDGE_SHOWS.map(value => ({
    value,
    label: `${t(`nudge.show.${value}`)} ${words.number(log.data.value?.counts[value] ?? 0)}`,
  })),
)
const rules = useLoad(() => callApi('GET /api/nudges/rules', {}))
const { problem, run } = useAct()
const stop = (id: string) =>
  run(async () => {
    await callApi('POST /api/nudges/stop', { body: { ids: [id] } })
    await log.reload()
  })
</script>

<template>
  <div class="page">
    <PageHead :title="t('nudge.log')">
      <NuxtLink to="/gather">{{ t('act.toBoard') }}</NuxtLink>
      <template #acts
        ><Button
          severity="secondary"
          outlined
          icon="pi pi-refresh"
          :label="t('nudge.look')"
          @click="log.reload()"
      /></template>
    </PageHead>
    <div class="stack">
      <FilterButtons v-model="show" :label="t('nudge.log')" :options="shows" />
      <ProblemNote :problem="problem" />
      <LoadState
        v-slot="{ data }"
        :load="log"
        :empty="log.data.value?.lines.length === 0"
        :empty-text="t('nudge.none')"
      >
        <NudgeTable :lines="data.lines" @stop="stop" />
        <ShowMore :more="data.more" @show="log.showMore()" />
      </LoadState>
      <LoadState v-slot="{ data }" :load="rules">
        <Message v-if="!data.hasGateway" severity="warn" :closable="false">{{
          t('nudge.noGateway')
        }}</Message>
        <div class="rules">
          <NudgeTextForm :key="JSON.stringify(data.text)" :rules="data" @saved="rules.reload()" />
          <NudgeTimesForm v-if="data.mayChangeTimes" :times="data.times" @saved="rules.reload()" />
          <p v-else class="quiet small">
            {{
              t(
                'nudge.timesAre',
                {
                  from: clockText(data.times.quietFrom),
                  to: clockText(data.times.quietTo),
                  count: data.times.aDay,
                },
                data.times.aDay,
              )
            }}
          </p>
        </div>
      </LoadState>
    </div>
  </div>
</template>

<style scoped>
.rules {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(340px, 1fr));
  gap: 16px;
  align-items: start;
}
</style>
