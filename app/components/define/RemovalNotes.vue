<script setup lang="ts">
import type { Removal } from '~/define/useRemoval'

/** The question before something is removed that is in use, and the way back after it. */
const { removal } = defineProps<{ removal: Removal }>()
const { t } = useI18n()
const { removed, asking, undo } = removal
</script>

<template>
  <AskDialog
    :visible="asking !== null"
    :title="t('draft.remove', { name: asking?.name ?? '' })"
    :act="t('draft.removeDo')"
    @update:visible="asking = null"
    @go="asking?.go()"
  >
    <p>{{ t('draft.usedBy', { name: asking?.name ?? '' }) }}</p>
    <ul>
      <li v-for="use in asking?.uses" :key="use">{{ use }}</li>
    </ul>
  </AskDialog>
  <Message v-if="removed" severity="secondary" closable @close="removed = null"
    >{{ t('draft.removed', { name: removed.name }) }}
    <Button text size="small" :label="t('draft.undo')" @click="undo"
  /></Message>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 20px;
}
</style>
