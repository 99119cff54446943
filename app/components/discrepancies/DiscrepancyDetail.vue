<script setup lang="ts">
import type { DiscrepancyFile } from '#core/contract/discrepancies'
import { namesOfFile } from '~/reports/useDoubtWords'

const { file } = defineProps<{ file: DiscrepancyFile }>()
const emit = defineEmits<{ done: [settled: boolean] }>()
const words = useWords()
const { t } = words
const session = useSession()
const names = computed(() => namesOfFile(file))
/** Answers and texts have no line over the months. */
const hasNumbers = computed(() => file.cells.some(({ trend }) => trend.some(value => value !== null)))
</script>

<template>
  <article class="detail">
    <div class="row">
      <StrengthTag :strength="file.line.strength" />
      <WordTag v-if="!file.line.holds && file.line.state !== 'settled'" tone="moss">{{
        t('resolve.gone')
      }}</WordTag>
      <span class="quiet small"
        >{{ file.line.unit.name }} · {{ words.period(file.line.round.period) }} ·
        {{ t(`discrepancy.${file.line.state}`) }}</span
      >
      <NuxtLink class="small" :to="facilityLink(file.line.round.id, file.line.unit.code)">{{
        t('resolve.toReport')
      }}</NuxtLink>
    </div>
    <h2 class="title">{{ words.say(file.line.title) }}</h2>
    <div class="pair">
      <ComparedCard :doubt="file.doubt" :names="names" :sentence="file.sentence" /><EffectCard :file="file" />
    </div>
    <CountsBehind v-if="!session.isLimited && Object.keys(file.counts ?? {}).length" :id="file.line.id" />
    <TrendChart v-if="hasNumbers" :key="file.line.id + words.locale.value" :file="file" />
    <div class="pair talk">
      <div class="card stack">
        <h3>{{ t('resolve.thread') }}</h3>
        <ThreadView :thread="file.thread" />
      </div>
      <SettleCard
        v-if="session.can('resolve')"
        :key="`${file.line.id} ${file.line.state}`"
        :file="file"
        @done="emit('done', $event)"
      />
    </div>
  </article>
</template>

<style scoped>
.detail {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 16px 22px 40px;
}
.title {
  font-size: 24px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 14px;
}
.talk {
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  align-items: start;
}
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
@media (width < 1000px) {
  .pair,
  .talk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
