<script setup lang="ts">
import type { ComparedItem } from '#core/contract/visits'

/** Items that were counted again: reported, recounted, and one over the other. */
const { items, label } = defineProps<{ items: readonly ComparedItem[]; label: string }>()
const words = useWords()
const { t } = words
</script>

<template>
  <DataTable :value="[...items]" :table-props="{ 'aria-label': label }">
    <Column :header="t('verification.item')"
      ><template #body="{ data: one }"
        >{{ words.say(one.item) }}
        <p class="small quiet">
          {{ words.say(one.dataset) }} · {{ t('verification.reports', { count: one.reports }, one.reports) }}
        </p></template
      ></Column
    >
    <Column :header="t('recount.reported')" class="num"
      ><template #body="{ data: one }">{{ words.number(one.reported) }}</template></Column
    >
    <Column :header="t('recount.counted')" class="num"
      ><template #body="{ data: one }">{{ words.number(one.recounted) }}</template></Column
    >
    <Column :header="t('verification.factor')"
      ><template #body="{ data: one }"><FactorSays :of="one" /></template
    ></Column>
  </DataTable>
</template>
