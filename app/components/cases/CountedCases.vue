<script setup lang="ts">
/** The cases that a count is made of, one after the other, each to open. */
export interface CountShown {
  text: string
  name: string
  /** null where it cannot be said. */
  total: number | null
  /** The first of them. */
  cases: { id: string; title: string; to: string }[]
}
const { counts } = defineProps<{ counts: readonly CountShown[] }>()
const words = useWords()
const { t } = words
</script>

<template>
  <details v-for="one in counts" :key="one.text" class="counted">
    <summary>
      {{
        one.total === null
          ? t('countedCases.unknown', { name: one.name })
          : words.pair(one.name, words.number(one.total))
      }}
    </summary>
    <p v-if="one.total === 0" class="small quiet">{{ t('caseCounts.noneCounted') }}</p>
    <ul class="plain-list">
      <li v-for="found in one.cases" :key="found.id">
        <NuxtLink :to="found.to">{{ found.title }}</NuxtLink>
      </li>
    </ul>
    <p v-if="one.total !== null && one.total > one.cases.length && one.cases.length" class="small quiet">
      {{ t('countedCases.first', { shown: words.number(one.cases.length), all: words.number(one.total) }) }}
    </p>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-size: 14px;
  min-height: 24px;
}
li {
  padding: 3px 0 3px 14px;
}
</style>
