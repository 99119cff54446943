<script setup lang="ts">
import type { Board } from '#core/contract/rounds'
import type { LanternSign } from '#core/report/state'

/** The figures that matter of a round, and the share of each state. */
const { board } = defineProps<{ board: Board }>()
const words = useWords()
const { t } = words
const ORDER: LanternSign[] = ['accepted', 'sent', 'sentBack', 'draft', 'awaited', 'overdue']
const parts = computed(() =>
  ORDER.map(sign => ({ sign, count: board.rows.filter(row => row.sign === sign).length })).filter(
    ({ count }) => count > 0,
  ),
)
const complete = computed(() => board.rows.filter(row => row.complete).length)
const mustFix = computed(() => board.rows.reduce((sum, row) => sum + row.mustFix, 0))
const explain = computed(() => board.rows.reduce((sum, row) => sum + row.explain, 0))
</script>

<template>
  <div class="summary">
    <div>
      <span class="figure">{{ board.reporting.received }}</span>{{ ' ' }}
      <span class="of">{{ t('round.of', { count: board.reporting.expected }) }}</span>
      <p class="quiet small">{{ t('round.received') }} · {{ words.percent(board.reporting.completeness) }}</p>
    </div>
    <div>
      <span class="figure">{{ board.reporting.onTime }}</span>{{ ' ' }}
      <span class="of">{{ t('round.of', { count: board.reporting.expected }) }}</span>
      <p class="quiet small">{{ t('round.onTime') }} · {{ words.percent(board.reporting.timeliness) }}</p>
    </div>
    <div>
      <span class="figure">{{ complete }}</span>{{ ' ' }}
      <span class="of">{{ t('round.of', { count: board.reporting.expected }) }}</span>
      <p class="quiet small">{{ t('round.complete') }}</p>
    </div>
    <div>
      <span class="figure brick">{{ mustFix }}</span>
      <p class="quiet small">{{ t('strength.mustFix') }}</p>
    </div>
    <div>
      <span class="figure amber">{{ explain }}</span>
      <p class="quiet small">{{ t('strength.explain') }}</p>
    </div>
    <div
      class="bar"
      role="img"
      :aria-label="parts.map(part => `${t(`state.${part.sign}`)} ${part.count}`).join(', ')"
    >
      <span
        v-for="part in parts"
        :key="part.sign"
        :class="part.sign"
        :style="{ flexGrow: part.count }"
        :title="t(`state.${part.sign}`)"
        >{{ part.count }} {{ part.count > 1 ? t(`state.${part.sign}`) : '' }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.summary {
  display: flex;
  align-items: flex-end;
  gap: 28px;
  flex-wrap: wrap;
  margin-bottom: 14px;
}
.of {
  font-family: var(--title);
  font-weight: 600;
  color: var(--ink-5);
  font-size: 17px;
}
.brick {
  color: var(--brick-7);
}
.amber {
  color: var(--amber-7);
}
.bar {
  flex: 1;
  min-width: 320px;
  display: flex;
  height: 27px;
  border-radius: 8px;
  overflow: hidden;
  border: 1px solid var(--line);
}
.bar span {
  padding: 0 9px;
  font-size: 13px;
  font-weight: 600;
  line-height: 25px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 26px;
  flex-basis: 0;
  color: var(--ink-9);
}
.bar .accepted {
  background: #2d6a4d;
  color: #fff;
}
.bar .sent {
  background: #eaa234;
  color: #1f1a2b;
}
.bar .sentBack {
  background: var(--brick-1);
  color: var(--brick-7);
}
.bar .draft {
  background: var(--sand);
}
.bar .awaited {
  background: var(--card);
}
.bar .overdue {
  background: var(--card);
  color: var(--brick-7);
  border: 1px dashed var(--brick-7);
  border-radius: 0 8px 8px 0;
  line-height: 23px;
}
</style>
