<script setup lang="ts">
import type { Words } from '#core/report/edition'

/** What differs between two editions or drafts, in words. */
export interface ToldDifference {
  what: string
  change: 'added' | 'removed' | 'changed' | 'moved'
  code: string
  name: Words
  parts?: string[]
}

const { differences } = defineProps<{ differences: readonly ToldDifference[] }>()
const words = useWords()
const { t } = words
const { te } = useI18n()
const SHOWN = 12
const all = ref(false)
const partName = (part: string) => (te(`draft.part.${part}`) ? t(`draft.part.${part}`) : part)
</script>

<template>
  <ul>
    <li
      v-for="one in all ? differences : differences.slice(0, SHOWN)"
      :key="one.what + one.change + one.code"
    >
      {{ t(`draft.what.${one.what}`) }} “{{ words.say(one.name) || one.code }}”:
      {{ t(`draft.changed.${one.change}`)
      }}<span v-if="one.parts" class="quiet"> ({{ one.parts.map(partName).join(', ') }})</span>
    </li>
    <li v-if="differences.length > SHOWN && !all">
      <button type="button" class="textual" @click="all = true">
        {{ t('units.more', { count: differences.length - SHOWN }, differences.length - SHOWN) }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  display: flex;
  flex-direction: column;
  gap: 3px;
}
</style>
