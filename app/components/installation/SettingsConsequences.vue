<script setup lang="ts">
import type { Consequences, CycleConsequences } from '#core/contract/settings'

/** What a change of the settings would do, in a sentence for each part of it. */
const { consequences } = defineProps<{ consequences: Consequences }>()
const words = useWords()
const { t } = words

const zone = computed(() => {
  const { timeZone } = consequences
  if (!timeZone) return []
  if (!timeZone.rounds) return [t('settings.zoneNothing')]
  const { rounds, laterBy, becomeLate, becomeOnTime } = timeZone
  // They differ where the clocks are put forward or back between two due days.
  const [short, long] = [laterBy.least, laterBy.most].map(Math.abs).sort((one, other) => one - other)
  const span = short === long ? words.span(short!) : `${words.span(short!)} – ${words.span(long!)}`
  return [
    t(laterBy.most > 0 ? 'settings.zoneLater' : 'settings.zoneEarlier', { count: rounds, span }, rounds),
    ...(becomeLate ? [t('settings.becomeLate', { count: becomeLate }, becomeLate)] : []),
    ...(becomeOnTime ? [t('settings.becomeOnTime', { count: becomeOnTime }, becomeOnTime)] : []),
  ]
})
const counted = ({ datasets, rounds, reports }: CycleConsequences) => ({
  names: datasets.map(words.say).join(', '),
  rounds: words.number(rounds),
  reports: words.number(reports),
})
const cycles = computed(() =>
  (['weeks', 'years'] as const).flatMap(part => {
    const found = consequences[part]
    if (!found) return []
    const says = found.refused ? 'refused' : found.rounds ? 'anew' : 'nothing'
    return [{ part, refused: found.refused, text: t(`settings.${part}.${says}`, counted(found)) }]
  }),
)
</script>

<template>
  <section class="card stack" aria-live="polite">
    <h2>{{ t('settings.consequences') }}</h2>
    <p v-for="text in zone" :key="text">{{ text }}</p>
    <p v-for="{ part, refused, text } in cycles" :key="part" :class="{ refused }">{{ text }}</p>
    <p v-if="!zone.length && !cycles.length" class="quiet">{{ t('settings.nameOnly') }}</p>
  </section>
</template>

<style scoped>
.refused {
  color: var(--brick-7);
}
</style>
