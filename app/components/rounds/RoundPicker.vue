<script setup lang="ts">
import type { RoundRef } from '#core/contract/common'
import { roundToOpen } from '#core/calendar/round-to-open'
import { groupBy } from '#core/group-by'

/** A round: its dataset and period to choose from, and its neighbours by one key each: `[` back, `]` on. */
const { round } = defineProps<{ round: RoundRef }>()
const emit = defineEmits<{ go: [round: string] }>()
const words = useWords()
const { t } = words
const {
  all: opened,
  before,
  after,
} = useRoundNeighbours(
  () => round.id,
  id => emit('go', id),
)
/** This round always is among them, also while the others are read. */
const all = computed(() => (opened.value.some(({ id }) => id === round.id) ? opened.value : [round]))
const datasets = computed(() =>
  [...groupBy(all.value, one => one.dataset)]
    .map(([code, [newest]]) => ({ value: code, label: words.say(newest!.name) }))
    .sort((one, other) => one.label.localeCompare(other.label)),
)
const periods = computed(() =>
  all.value
    .filter(({ dataset }) => dataset === round.dataset)
    .map(({ id, period }) => ({ value: id, label: words.period(period) })),
)
/** Another dataset is opened at its newest round that is over. */
const dataset = computed({
  get: () => round.dataset,
  set: code => {
    const own = all.value.filter(one => one.dataset === code)
    emit('go', roundToOpen(own, words.today())!.id)
  },
})
const period = computed({ get: () => round.id, set: id => emit('go', id) })
const due = computed(() => {
  const days = words.daysSince(round.dueAt)
  const ago =
    days > 0
      ? t('round.daysAgo', { days }, days)
      : days === 0
        ? t('round.today')
        : t('round.inDays', { days: -days }, -days)
  return `${t('round.due', { day: words.dueDay(round.dueAt) })} · ${ago}`
})
</script>

<template>
  <PickOne
    v-if="datasets.length > 1"
    v-model="dataset"
    input-id="round-dataset"
    :label="t('round.dataset')"
    :options="datasets"
    label-hidden
  />
  <div class="picker">
    <Button
      icon="pi pi-angle-left"
      text
      size="small"
      :disabled="!before"
      :aria-label="t('round.back')"
      @click="before && emit('go', before)"
    />
    <PickOne
      v-model="period"
      input-id="round-period"
      :label="t('round.period')"
      :options="periods"
      label-hidden
    />
    <Button
      icon="pi pi-angle-right"
      text
      size="small"
      :disabled="!after"
      :aria-label="t('round.on')"
      @click="after && emit('go', after)"
    />
  </div>
  <span class="quiet small">{{ due }}</span>
</template>

<style scoped>
.picker {
  display: flex;
  align-items: center;
  gap: 6px;
}
</style>
