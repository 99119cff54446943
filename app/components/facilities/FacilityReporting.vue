<script setup lang="ts">
import type { FacilityFile } from '#core/contract/facility'
import { totalOf } from '#core/quality/over-time'

/** How a facility reported one dataset over two years: a lantern for each round, and its shares. */
const { reporting, unit } = defineProps<{ reporting: FacilityFile['reporting'][number]; unit: string }>()
const words = useWords()
const { t } = words
const newest = computed(() => reporting.rounds.at(-1)!)
const total = computed(() => totalOf(reporting.marks))
const isLateOnce = computed(() => reporting.marks.some(mark => mark?.received && !mark.onTime))
const says = computed(() =>
  t('facility.reported', {
    received: total.value.received,
    expected: total.value.expected,
    onTime: words.percent(total.value.timeliness),
    answered: words.percent(total.value.itemCompleteness),
  }),
)
const rounds = computed(() =>
  reporting.rounds.map((round, at) => ({ round, mark: reporting.marks[at] ?? null })),
)
const wordsOf = ({ round, mark }: (typeof rounds.value)[number]) =>
  words.pair(
    words.period(round.period, 'short'),
    [
      mark ? t(`state.${mark.sign}`) : t('board.notExpected'),
      mark?.received && !mark.onTime ? t('overTime.lateShort') : '',
    ]
      .filter(Boolean)
      .join(', '),
  )
</script>

<template>
  <div class="stack dataset">
    <div class="spread">
      <h3>{{ words.say(newest.name) }}</h3>
      <NuxtLink :to="facilityLink(newest.id, unit)">{{ words.period(newest.period) }}</NuxtLink>
    </div>
    <ol class="lanterns">
      <li v-for="one in rounds" :key="one.round.id">
        <NuxtLink
          v-if="one.mark"
          :to="facilityLink(one.round.id, unit)"
          :title="wordsOf(one)"
          :aria-label="wordsOf(one)"
          :class="{ late: one.mark.received && !one.mark.onTime }"
          ><LanternSign :sign="one.mark.sign" :size="18"
        /></NuxtLink>
        <span v-else class="gap" :title="wordsOf(one)"
          ><span class="visually-hidden">{{ wordsOf(one) }}</span></span
        >
      </li>
    </ol>
    <p class="small quiet">
      {{ words.period(rounds[0]!.round.period, 'short') }} – {{ words.period(newest.period, 'short') }} ·
      {{ says }}
      <template v-if="isLateOnce"> · {{ t('facility.underlined') }}</template>
      <template v-if="reporting.notOffered">
        · {{ t('facility.notOffered', { count: reporting.notOffered }, reporting.notOffered) }}</template
      >
    </p>
  </div>
</template>

<style scoped>
.dataset {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.lanterns {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.lanterns a,
.gap {
  display: grid;
  place-items: center;
  width: 24px;
  height: 28px;
  border-radius: 6px;
  border-bottom: 3px solid transparent;
}
.lanterns a.late {
  border-bottom-color: var(--amber-7);
}
.gap::before {
  content: '';
  width: 8px;
  border-bottom: 1px dashed var(--ink-5);
}
</style>
