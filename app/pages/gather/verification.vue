<script setup lang="ts">
import { periodOfDay, shiftPeriod } from '#core/calendar/period'
import { printPeriod } from '#core/calendar/period-text'
import type { Verification } from '#core/contract/visits'

/** How far what facilities reported in a quarter was verified by counting again. */
const words = useWords()
const { t } = words
const session = useSession()
const QUARTERS = 8
const { asked, ask } = useAsked(['quarter'])
const now = periodOfDay('quarter', words.today())
const quarters = Array.from({ length: QUARTERS }, (_, back) => printPeriod(shiftPeriod(now, -back)))
const quarter = computed({
  get: () => quarters.find(one => one === asked.value.quarter) ?? quarters[0]!,
  set: one => void ask({ quarter: one }),
})
const load = usePages(
  (after: Verification['lines'][number] | undefined) =>
    callApi('GET /api/verification', {
      query: { quarter: quarter.value, unit: session.district ?? undefined, after: after?.unit.code },
    }),
  () => `${quarter.value} ${session.district}`,
)
</script>

<template>
  <div class="page">
    <PageHead :title="t('verification.title')">
      <NuxtLink to="/gather/visits">{{ t('visits.title') }}</NuxtLink>
    </PageHead>
    <div class="stack">
      <div class="fields">
        <PickOne
          v-model="quarter"
          input-id="verification-quarter"
          :label="t('verification.quarter')"
          :options="quarters.map(value => ({ value, label: words.period(value) }))"
        />
        <p class="quiet small says">{{ t('verification.says') }}</p>
      </div>
      <LoadState
        v-slot="{ data }"
        :load="load"
        :empty="load.data.value?.lines.length === 0"
        :empty-text="t('verification.none')"
      >
        <section class="card stack" aria-labelledby="verified-together">
          <h2 id="verified-together">{{ t('verification.together') }}</h2>
          <VerificationTable :items="data.totals" :label="t('verification.together')" />
        </section>
        <section v-for="line in data.lines" :key="line.unit.code" class="card stack">
          <h2>
            <NuxtLink :to="recountLink(line.unit.code)">{{ line.unit.name }}</NuxtLink>
          </h2>
          <VerificationTable :items="line.items" :label="line.unit.name" />
        </section>
        <ShowMore :more="data.more" @show="load.showMore()" />
      </LoadState>
    </div>
  </div>
</template>

<style scoped>
.fields {
  align-items: flex-end;
}
.says {
  max-width: 60ch;
}
</style>
