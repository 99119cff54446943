<script setup lang="ts">
/**
 * The session ended in the middle of the work: sign in over the page. What was typed stays on this device.
 */
const session = useSession()
const { t } = useI18n()
const userName = session.view?.person.userName ?? ''
</script>

<template>
  <Dialog :visible="true" modal :closable="false" :header="t('signIn.again')" :style="{ width: '360px' }">
    <p class="saved">{{ t('signIn.againKept') }}</p>
    <SignInForm :user-name="userName" locked />
  </Dialog>
</template>

<style scoped>
.saved {
  margin-bottom: 14px;
  color: var(--ink-7);
}
</style>
