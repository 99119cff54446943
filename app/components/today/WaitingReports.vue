<script setup lang="ts">
import type { Today } from '#core/contract/rounds'

/** Reports that wait for a decision of the office. */
const { title, reports, says } = defineProps<{
  title: string
  reports: Today['late']
  /** The key of the sentence that counts the changes. */
  says: 'late.count' | 'conflicts.count'
}>()
const words = useWords()
const { t } = words
</script>

<template>
  <section v-if="reports.length" class="card stack">
    <h2>{{ title }}</h2>
    <ul>
      <li v-for="one in reports" :key="one.round.id + one.unit.code">
        <NuxtLink :to="facilityLink(one.round.id, one.unit.code)">{{
          words.pair(one.unit.name, `${words.say(one.round.name)}, ${words.period(one.round.period)}`)
        }}</NuxtLink>{{ ' ' }}
        <span class="quiet small">{{ t(says, { count: one.changes }, one.changes) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
