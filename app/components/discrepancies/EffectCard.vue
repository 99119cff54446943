<script setup lang="ts">
import type { DiscrepancyFile } from '#core/contract/discrepancies'

/** How far the doubt could move a district figure. */
const { file } = defineProps<{ file: DiscrepancyFile }>()
const words = useWords()
const { t } = words
const largest = computed(() => file.shifts[0])
const itemName = computed(() =>
  largest.value ? words.say(file.items[largest.value.item]?.item.name ?? { en: largest.value.item }) : '',
)
const isCorrected = computed(() => !largest.value?.instead || largest.value.instead === 'counted')
const sign = computed(() =>
  largest.value ? (largest.value.cured - largest.value.figure) / (largest.value.figure || 1) : 0,
)
const cellName = (key: string) => words.say(file.cells.find(({ cell }) => cell === key)?.name ?? { en: key })
</script>

<template>
  <div class="card">
    <h3>{{ t('resolve.effect', { district: file.district.name }) }}</h3>
    <template v-if="largest">
      <div class="sides">
        <div>
          <p class="small quiet">{{ itemName }}</p>
          <span class="figure">{{ words.number(largest.figure) }}</span>
        </div>
        <span class="arrow" aria-hidden="true">→</span>
        <div>
          <p class="small quiet">{{ t(isCorrected ? 'resolve.ifCorrected' : 'resolve.ifInstead') }}</p>
          <span class="figure">{{ words.number(largest.cured) }}</span>
        </div>
        <div class="end">
          <p class="small quiet">{{ t('resolve.shift') }}</p>
          <span class="figure">{{ sign > 0 ? '+' : '−' }}{{ words.percent(Math.abs(sign), 1) }}</span>
        </div>
      </div>
      <p class="small quiet">
        {{
          t(`resolve.${largest.instead ?? 'nearest'}`, {
            name: cellName(largest.cell),
            from: words.number(largest.from),
            to: words.number(largest.to),
          })
        }}
      </p>
    </template>
    <p v-else class="small quiet">{{ file.line.holds ? t('resolve.noEffect') : t('resolve.gone') }}</p>
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
.arrow {
  font-size: 22px;
  color: var(--ink-5);
}
</style>
