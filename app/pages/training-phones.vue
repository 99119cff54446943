<script setup lang="ts">
/**
 * Three devices side by side, for training: each has its own storage and simulated network, clock, position
 * and camera.
 */
const { t } = useI18n()
const PHONES = ['a', 'b', 'c'] as const
useHead({ title: () => `${t('trainingPhones.title')} · Eastward Lantern` })
</script>

<template>
  <div class="page">
    <PageHead :title="t('trainingPhones.title')">{{ t('trainingPhones.hint') }}</PageHead>
    <div class="phones"><TrainingPhone v-for="phone in PHONES" :key="phone" :phone="phone" /></div>
  </div>
</template>

<style scoped>
.phones {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
}
@media (width < 1100px) {
  .phones {
    grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  }
}
</style>
