<script setup lang="ts">
/** The one button that sends and receives, and what the last contact came to. */
const words = useWords()
const { t } = words
const desk = useDesk()
</script>

<template>
  <div class="stack">
    <Button severity="secondary" outlined icon="pi pi-refresh" :label="t('cases.meet')" :loading="desk.state.value === 'busy'" @click="desk.meet(true)" />
    <p v-if="desk.state.value === 'noNetwork'" class="quiet small" role="status">{{ t('cases.noNetwork') }}</p>
    <p v-else-if="desk.state.value === 'waitsForWifi'" class="quiet small" role="status">{{ t('cases.waitsForWifi') }}</p>
    <p v-else-if="desk.state.value === 'signedOut'" class="wrong small" role="alert">{{ t('cases.signedOut') }}</p>
    <p v-else-if="desk.lastContact.value" class="quiet small" role="status">{{ t('cases.contact', { at: words.time(desk.lastContact.value.at), sent: desk.lastContact.value.sent, heard: desk.lastContact.value.heard }) }}</p>
  </div>
</template>

<style scoped>
.wrong { color: var(--brick-7); }
button { min-height: 44px; }
</style>
