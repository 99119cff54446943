<script setup lang="ts">
import type { NotCarried } from '#core/exchange/fhir-marks'

/** What became of a form on its way to another format or from it: all of it, or what has no place there. */
const { way, lines, name } = defineProps<{ way: 'out' | 'in'; lines: readonly NotCarried[]; name: string }>()
const { t } = useI18n()
</script>

<template>
  <p role="status">
    <strong>{{ t(way === 'out' ? 'exchange.went' : 'exchange.came', { name }) }}</strong>
  </p>
  <template v-if="lines.length">
    <h3>{{ t(way === 'out' ? 'exchange.ownOnly' : 'exchange.lost', { count: lines.length }) }}</h3>
    <ul>
      <li v-for="(one, at) in lines" :key="at">
        <code>{{ one.question }}</code>: {{ one.what }}
      </li>
    </ul>
  </template>
  <p v-else class="quiet">{{ t(way === 'out' ? 'exchange.wholeOut' : 'exchange.whole') }}</p>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  max-height: 320px;
  overflow: auto;
}
</style>
