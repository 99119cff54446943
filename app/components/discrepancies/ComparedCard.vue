<script setup lang="ts">
import type { Words } from '#core/report/edition'
import type { Doubt } from '#core/rule/find-doubts'
import type { DoubtNames } from '~/reports/useDoubtWords'

/** What the rule compared, with the numbers put in. */
const { doubt, names, sentence } = defineProps<{
  doubt: Doubt
  names: DoubtNames
  /** What the officer reads of the rule. */
  sentence: Words
}>()
const words = useWords()
const { t } = words
const { sideText, slipText, distanceText } = useDoubtWords(() => names)
const explanation = computed(() => doubt.explanation)
const range = computed(() => doubt.range)
const slip = computed(() => doubt.range && slipText(doubt.range))
/** What the two numbers are called. */
const NAMES = {
  rule: { title: 'resolve.compared', left: 'resolve.left', right: 'resolve.right' },
  range: { title: 'resolve.outOfRange', left: 'cell.now', right: 'cell.usually' },
  cases: { title: 'caseCounts.title', left: 'caseCounts.reported', right: 'caseCounts.registered' },
  recount: { title: 'recount.title', left: 'recount.reported', right: 'recount.counted' },
  refused: { title: 'sending.refusedTitle', left: 'sending.refusedTitle', right: 'sending.refusedTitle' },
} as const satisfies Record<Doubt['source'], object>
const named = computed(() => NAMES[doubt.source])
const refusedValue = computed(() => {
  const value = doubt.refused?.value
  return words.value(typeof value === 'object' ? value.join(', ') : value)
})
</script>

<template>
  <div class="card">
    <h3>
      {{ t(named.title) }}
    </h3>
    <div v-if="range" class="sides">
      <div>
        <p class="small quiet">{{ t(named.left) }}</p>
        <span class="figure brick">{{ words.number(range.value) }}</span>
      </div>
      <div>
        <p class="small quiet">{{ t(named.right) }}</p>
        <span class="figure">{{ words.number(range.low) }}–{{ words.number(range.high) }}</span>
      </div>
      <div class="end">
        <p class="small quiet">{{ t('resolve.mean') }}</p>
        <span class="figure">{{ words.number(range.mean, 1) }}</span>
      </div>
    </div>
    <div v-else-if="explanation?.right && explanation.relation" class="sides">
      <div>
        <p class="small quiet">{{ t(named.left) }}</p>
        <span class="figure">{{ words.value(explanation.left.value) }}</span>
      </div>
      <span class="relation">{{ explanation.relation }}</span>
      <div>
        <p class="small quiet">{{ t(named.right) }}</p>
        <span class="figure">{{ words.value(explanation.right.value) }}</span>
      </div>
      <div class="end">
        <p class="small quiet">{{ t('resolve.by') }}</p>
        <span class="figure brick">{{ distanceText(explanation) }}</span>
      </div>
    </div>
    <p v-if="slip">{{ slip }}</p>
    <p v-if="explanation" class="small">
      {{ sideText(explanation.left)
      }}<template v-if="explanation.right">{{
        ` ${explanation.relation} ${sideText(explanation.right)}`
      }}</template>
    </p>
    <template v-if="doubt.refused">
      <p class="figure brick">{{ refusedValue }}</p>
      <p>{{ t('sending.said', { by: doubt.refused.by, message: doubt.refused.message }) }}</p>
      <p class="small quiet">{{ words.moment(doubt.refused.at) }}</p>
    </template>
    <p v-else-if="doubt.recount" class="small quiet">
      {{ t('recount.who', { day: words.plainDay(doubt.recount.on), by: doubt.recount.by }) }}
    </p>
    <p v-else class="small quiet">
      {{ range ? t('resolve.rangeFrom', { count: range.count }) : words.say(sentence) }}
    </p>
  </div>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
.sides {
  display: flex;
  align-items: flex-end;
  gap: 24px;
}
.end {
  margin-left: auto;
  text-align: right;
}
.relation {
  font: 600 24px var(--title);
  color: var(--brick-7);
}
.brick {
  color: var(--brick-7);
}
</style>
