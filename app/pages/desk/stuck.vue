<script setup lang="ts">
/** The browser holds its storage shut: what to do about it. */
definePageMeta({ layout: 'plain' })
const { t } = useI18n()
useHead({ title: () => t('lock.stuck') })
</script>

<template>
  <div class="card box stack" role="alert">
    <h1>{{ t('lock.stuck') }}</h1>
    <p>{{ t('lock.stuckHint') }}</p>
    <a href="/desk">{{ t('act.tryAgain') }}</a>
  </div>
</template>

<style scoped>
.box {
  width: min(380px, 100%);
  padding: 22px;
}
</style>
