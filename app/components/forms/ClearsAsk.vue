<script setup lang="ts">
/** What an answer would clear, before it does; and afterwards the one touch that brings it back. */
const { lost, canBringBack } = defineProps<{
  /** Names of what would be cleared; null when nothing waits. */
  lost: string[] | null
  canBringBack: boolean
}>()
const emit = defineEmits<{ confirm: []; leave: []; bringBack: [] }>()
const { t } = useI18n()
</script>

<template>
  <div v-if="lost" class="ask" role="alertdialog" :aria-label="t('filling.clears')">
    <p>
      <strong>{{ t('filling.clears') }}</strong> {{ lost.join(', ') }}
    </p>
    <div class="row">
      <Button :label="t('filling.clear')" @click="emit('confirm')" /><Button
        severity="secondary"
        outlined
        :label="t('filling.leave')"
        @click="emit('leave')"
      />
    </div>
  </div>
  <div v-else-if="canBringBack" class="ask" role="status">
    <Button size="small" icon="pi pi-undo" :label="t('filling.bringBack')" @click="emit('bringBack')" />
  </div>
</template>

<style scoped>
.ask {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 16px;
  background: var(--amber-1);
  border-top: 1px solid var(--line);
}
.ask :deep(button) {
  min-height: 44px;
}
</style>
