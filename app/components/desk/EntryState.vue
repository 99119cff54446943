<script setup lang="ts">
import type { StoredEntry } from '~/device/useDeskStore'

/** Where an entry has got to, in a word: only here, with the district, or in need of a person. */
const { entry } = defineProps<{ entry: Pick<StoredEntry, 'state' | 'receivedAt' | 'why'> }>()
const words = useWords()
const { t } = words
</script>

<template>
  <WordTag v-if="entry.state === 'waiting'" tone="amber">{{ t('cases.waiting') }}</WordTag>
  <WordTag v-else-if="entry.state === 'refused'" tone="brick">{{ t('cases.needsYou') }}</WordTag>
  <WordTag v-else tone="moss">{{
    entry.receivedAt ? t('cases.received', { at: words.moment(entry.receivedAt) }) : t('cases.receivedPlain')
  }}</WordTag>
</template>
