<script setup lang="ts">
import type { RefusedRow } from '#core/contract/extracts'

/** The rows of a file that its recipient did not take: what it says of each, and the case where it is one. */
const { rows, count } = defineProps<{ rows: readonly RefusedRow[]; count: number }>()
const { t } = useI18n()
</script>

<template>
  <details class="small">
    <summary>{{ t('extract.refusedRows', { count }, count) }}</summary>
    <ul>
      <li v-for="one in rows" :key="one.row">
        <NuxtLink v-if="one.case" :to="`/cases/${one.case}`">{{ t('extract.openCase') }}</NuxtLink><code
          v-else
          >{{ one.row }}</code
        >
        {{ one.message }}
      </li>
    </ul>
    <p v-if="count > rows.length" class="quiet">
      {{ t('extract.refusedMore', { count: count - rows.length }) }}
    </p>
  </details>
</template>
