<script setup lang="ts">
import type { KeptDraft } from '~/composables/useKept'
import type { ToldDifference } from './DifferenceList.vue'

/** Somebody else was quicker: who, what they changed, and the three ways on. */
const { kept, changes } = defineProps<{ kept: KeptDraft; changes: ToldDifference[] }>()
const emit = defineEmits<{ copy: [] }>()
const { t } = useI18n()
</script>

<template>
  <div v-if="kept.problem.value" class="stack">
    <ProblemNote :problem="kept.problem.value" />
    <div v-if="kept.theirs.value" class="card stack">
      <h2>{{ t('conflict.what') }}</h2>
      <DifferenceList :differences="changes" />
      <p v-if="!changes.length" class="quiet">{{ t('conflict.nothingTold') }}</p>
      <div class="row">
        <Button size="small" :label="t('conflict.merge')" @click="kept.merge()" />
        <Button size="small" severity="secondary" outlined :label="t('draft.takeTheirs')" @click="kept.takeTheirs()" />
        <Button size="small" severity="secondary" outlined :label="t('conflict.copy')" @click="emit('copy')" />
      </div>
    </div>
  </div>
  <Message v-if="kept.both.value.length" severity="warn" closable @close="kept.forgetBoth()">{{ t('conflict.both', { places: kept.both.value.join(', ') }) }}</Message>
</template>
