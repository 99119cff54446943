<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'

/**
 * How many reports of the datasets that this one is compared with are in: what is not complete is not
 * compared, because a month of three weeks would only look like a drop.
 */
const { file } = defineProps<{ file: ReportFile }>()
const words = useWords()
const { t } = words
const lines = computed(() =>
  (file.edition.others ?? []).flatMap(({ dataset, name }) => {
    const figures = file.others?.[dataset]
    const [received, expected] = [figures?.received[0] ?? 0, figures?.expected[0] ?? 0]
    return expected ? [{ dataset, name, received, expected }] : []
  }),
)
</script>

<template>
  <p v-for="one in lines" :key="one.dataset" class="small quiet">
    {{
      t(one.received < one.expected ? 'others.waits' : 'others.compared', {
        name: words.say(one.name),
        received: one.received,
        expected: one.expected,
      })
    }}
  </p>
</template>
