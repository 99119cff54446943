<script setup lang="ts">
import type { DraftAutosave } from '~/define/useDraftAutosave'
import type { ToldDifference } from './DifferenceList.vue'

/** Somebody else was quicker: who, what they changed, and the three ways on. */
const { autosave, changes } = defineProps<{ autosave: DraftAutosave; changes: ToldDifference[] }>()
const emit = defineEmits<{ copy: [] }>()
const { t } = useI18n()
</script>

<template>
  <div v-if="autosave.problem.value" class="stack">
    <ProblemNote :problem="autosave.problem.value" />
    <div v-if="autosave.theirs.value" class="card stack">
      <h2>{{ t('conflict.what') }}</h2>
      <DifferenceList :differences="changes" />
      <p v-if="!changes.length" class="quiet">{{ t('conflict.nothingTold') }}</p>
      <div class="row">
        <Button size="small" :label="t('conflict.merge')" @click="autosave.merge()" />
        <Button
          size="small"
          severity="secondary"
          outlined
          :label="t('draft.takeTheirs')"
          @click="autosave.takeTheirs()"
        />
        <Button
          size="small"
          severity="secondary"
          outlined
          :label="t('conflict.copy')"
          @click="emit('copy')"
        />
      </div>
    </div>
  </div>
  <Message v-if="autosave.both.value.length" severity="warn" closable @close="autosave.forgetBoth()">{{
    t('conflict.both', { places: autosave.both.value.join(', ') })
  }}</Message>
</template>
