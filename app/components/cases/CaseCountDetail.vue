<script setup lang="ts">
import type { CountedRow } from '#core/contract/case-counts'
import type { CaseLine } from '#core/contract/cases'
import { LONGEST_SENTENCE } from '#core/contract/wire'

/** One count of one facility, opened: the cases that count, and those that nearly do, each with why. */
const { round, count, unit } = defineProps<{ round: string; count: string; unit: string }>()
const words = useWords()
const { t } = words
const load = useLoad(() =>
  callApi('GET /api/rounds/:round/case-counts/:count/:unit', { params: { round, count, unit } }),
)
const { byCode: registers } = useRegisters()
const { titleOfSide } = useCaseLines(code => registers.value.get(code))
const session = useSession()
const text = ref('')
const { busy, problem, run } = useAct()
const isDifferent = (verdict: CountedRow['verdict']) =>
  verdict === 'reportHigher' || verdict === 'registerHigher'
/** The difference becomes a discrepancy, which is worked on where all are. */
async function ask() {
  const done = await run(async () => {
    const { discrepancy } = await callApi('POST /api/rounds/:round/case-counts/:count/:unit/ask', {
      params: { round, count, unit },
      body: { text: text.value },
    })
    await navigateTo(`/resolve/${discrepancy}`)
  })
  // Somebody may have put it right meanwhile.
  if (!done) await load.reload()
}
/** Of a case of another branch the answers are not told. */
const nameOf = (line: CaseLine) =>
  titleOfSide({ id: line.id, unit: line.unit, line: Object.keys(line.answers).length ? line : null })
</script>

<template>
  <section class="card stack" :aria-label="t('caseCounts.one')">
    <LoadState v-slot="{ data }" :load="load">
      <h2>{{ data.row.unit.name }}: {{ words.say(data.count.name) }}</h2>
      <p>
        {{
          t('caseCounts.says', {
            reported: words.number(data.row.reported),
            registered: words.number(data.row.registered),
          })
        }}
        <template v-if="data.sentAt">{{
          t('caseCounts.sent', {
            at: words.moment(data.sentAt),
            count: words.number(data.counted.filter(({ before }) => before).length),
          })
        }}</template>
      </p>
      <p class="row">
        <NuxtLink :to="`/facility/${round}/${unit}`">{{ t('caseCounts.toReport') }}</NuxtLink>
        <NuxtLink v-if="data.discrepancy" :to="`/resolve/${data.discrepancy}`">{{
          t('caseCounts.toDiscrepancy')
        }}</NuxtLink>
      </p>
      <form
        v-if="isDifferent(data.row.verdict) && !data.discrepancy && session.can('resolve')"
        class="stack"
        @submit.prevent="ask"
      >
        <label for="ask-about-count">{{ t('caseCounts.ask') }}</label>
        <Textarea id="ask-about-count" v-model="text" rows="2" :maxlength="LONGEST_SENTENCE" fluid />
        <ProblemNote :problem="problem" />
        <div>
          <Button
            type="submit"
            size="small"
            :label="t('resolve.ask')"
            :disabled="text.trim().length < 2"
            :loading="busy"
          />
        </div>
      </form>
      <h3>{{ t('caseCounts.counted') }}</h3>
      <p v-if="!data.counted.length" class="quiet">{{ t('caseCounts.noneCounted') }}</p>
      <ul class="plain-list">
        <li v-for="one in data.counted" :key="one.line.id">
          <NuxtLink :to="`/cases/${one.line.id}`">{{ nameOf(one.line) }}</NuxtLink>
          <span class="small quiet rest">{{ words.plainDay(one.day) }}</span>
          <WordTag v-if="one.before === false" tone="amber">{{ t('caseCounts.cameLater') }}</WordTag>
        </li>
      </ul>
      <template v-if="data.near.length">
        <h3>{{ t('caseCounts.near') }}</h3>
        <ul class="plain-list">
          <li v-for="one in data.near" :key="one.line.id">
            <NuxtLink :to="`/cases/${one.line.id}`">{{ nameOf(one.line) }}</NuxtLink>
            <span class="small quiet rest">{{
              t(`caseCounts.why.${one.why}`, {
                unit: one.unit?.name ?? '',
                day: one.day ? words.plainDay(one.day) : '',
              })
            }}</span>
          </li>
        </ul>
      </template>
    </LoadState>
  </section>
</template>

<style scoped>
h2,
h3,
p {
  margin: 0;
}
.rest {
  margin: 0 8px;
}
li {
  padding: 3px 0;
}
</style>
