<script setup lang="ts">
/** A new version waits until the person takes it: nothing that is being typed is interrupted. */
const { t } = useI18n()
const { $pwa } = useNuxtApp()
async function take() {
  await saveTyped()
  await $pwa!.updateServiceWorker()
}
</script>

<template>
  <div v-if="$pwa?.needRefresh" class="notice" role="status">
    {{ t('shell.newVersion') }}
    <Button size="small" :label="t('act.takeNewVersion')" @click="take" />
  </div>
</template>

<style scoped>
.notice {
  position: fixed;
  right: 16px;
  bottom: 16px;
  z-index: 20;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 10px 14px;
  border-radius: 10px;
  background: var(--plum-9);
  color: #fff;
}
</style>
