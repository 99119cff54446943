<script setup lang="ts">
/** The one button that sends and receives, and what the last contact came to. */
const words = useWords()
const { t } = words
const desk = useDesk()
</script>

<template>
  <div class="stack">
    <Button
      severity="secondary"
      outlined
      icon="pi pi-refresh"
      :label="t('cases.sync')"
      :loading="desk.state.value === 'busy'"
      @click="desk.sync(true)"
    />
    <p v-if="desk.state.value === 'noNetwork'" class="quiet small" role="status">
      {{ t('cases.noNetwork') }}
    </p>
    <p v-else-if="desk.state.value === 'waitsForWifi'" class="quiet small" role="status">
      {{ t('cases.waitsForWifi') }}
    </p>
    <p v-else-if="desk.state.value === 'signedOut'" class="wrong small" role="alert">
      {{ t('cases.signedOut') }}
    </p>
    <p v-else-if="desk.lastSync.value" class="quiet small" role="status">
      {{
        t('cases.contact', {
          at: words.time(desk.lastSync.value.at),
          sent: desk.lastSync.value.sent,
          heard: desk.lastSync.value.received,
        })
      }}
    </p>
  </div>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
button {
  min-height: 44px;
}
</style>
