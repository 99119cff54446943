<script setup lang="ts">
import type { Units } from '~/units/useUnits'

/** Where a case is that went to another facility, and that it is closed; nothing of any other. */
const { one, units } = defineProps<{ one: DeskCase; units: Pick<Units, 'byCode'> }>()
const words = useWords()
const { t } = words
const at = computed(() => {
  const { moves, unit } = one.life
  const last = moves.at(-1)
  if (!last) return null
  const facility = units.byCode.value.get(unit)?.name ?? unit
  return last.since === null
    ? t('caseLife.atAlways', { facility })
    : t('caseLife.at', { facility, day: words.plainDay(last.since) })
})
const closed = computed(() => {
  const { closed: end } = one.life
  return end
    ? t('caseLife.closedOn', { day: words.plainDay(end.on), outcome: t(`caseLife.outcome.${end.outcome}`) })
    : null
})
</script>

<template>
  <div v-if="at || closed" class="card stack">
    <p v-if="at">
      <strong>{{ at }}</strong><br v-if="one.isElsewhere" /><span
        v-if="one.isElsewhere"
        class="small quiet"
        >{{ t('caseLife.elsewhere') }}</span
      >
    </p>
    <p v-if="closed">
      <strong>{{ closed }}</strong><br /><span class="small quiet">{{ t('caseLife.closedHint') }}</span>
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
