<script setup lang="ts">
import { LANGUAGES } from '~/plugins/i18n'

/** This device: who is signed in, what waits, the language, and the way out. */
definePageMeta({ layout: 'desk' })
const { t, locale } = useI18n()
const session = useSession()
const router = useRouter()
const device = useDeviceStore()
const waiting = ref(0)
onMounted(async () => { waiting.value = await device.changes.count() })

async function leave(everywhere: boolean) {
  await session.signOut(everywhere)
  await router.push('/sign-in')
}
</script>

<template>
  <div>
    <DeskHead :title="t('place.device')">{{ session.view?.person.displayName }}</DeskHead>
    <main class="list">
      <section class="card stack">
        <p>{{ waiting ? t('due.waiting', { count: waiting }, waiting) : t('due.nothingWaiting') }}</p>
        <p class="quiet small">{{ t('device.keeps') }}</p>
      </section>
      <section class="card row">
        <Button v-for="language in LANGUAGES" :key="language" :severity="language === locale ? 'primary' : 'secondary'" :outlined="language !== locale" :label="t('shell.language', {}, { locale: language })" :aria-pressed="language === locale" @click="locale = language" />
      </section>
      <Button severity="secondary" outlined :label="t('act.signOut')" icon="pi pi-sign-out" @click="leave(false)" />
      <Button severity="secondary" text :label="t('act.signOutEverywhere')" @click="leave(true)" />
    </main>
  </div>
</template>

<style scoped>
.list { max-width: 720px; margin: 0 auto; padding: 14px; display: flex; flex-direction: column; gap: 12px; }
.list :deep(button) { min-height: 44px; }
</style>
