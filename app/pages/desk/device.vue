<script setup lang="ts">
/** This device: what it is, what waits, its syncs, its settings, its people, and the way out. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const session = useSession()
const vault = useVault()
const desk = useDesk()
const nuxt = useNuxtApp()
const lock = () => nuxt.runWithContext(lockDesk)
const leaving = ref(false)
const onlyHere = computed(() => desk.waiting.value + desk.needsYou.value)
const storage = useLoad(
  async () => ({ share: await storageShare() }),
  () => desk.lastSync.value,
)
/** Everything that working without a network needs is here: the application, and what is due. */
const worker = ref(false)
onMounted(
  () =>
    void navigator.serviceWorker?.ready.then(() => {
      worker.value = true
    }),
)
const ready = useLoad(
  async () => ({ there: await offlineReady() }),
  () => [desk.lastSync.value, worker.value],
)
const NEARLY_FULL = 0.8
const minutesOff = computed(() => {
  void desk.lastSync.value
  return Math.round(clockAhead() / 60_000)
})
async function leave() {
  await vault.forget(vault.person!.id)
  await navigateTo(vault.people.length ? '/desk/unlock' : '/desk/sign-in')
}
</script>

<template>
  <div>
    <DeskHead :title="vault.device?.name ?? t('place.device')"
      >{{ session.view?.person.displayName }} · {{ vault.device?.unit.name }}</DeskHead
    >
    <main class="list">
      <section class="card stack">
        <p>
          <strong>{{
            desk.waiting.value
              ? t('due.waiting', { count: desk.waiting.value }, desk.waiting.value)
              : t('due.nothingWaiting')
          }}</strong>
        </p>
        <p v-if="desk.needsYou.value">
          <NuxtLink to="/desk/needs-you" class="wrong">{{
            t('needsYou.count', { count: desk.needsYou.value }, desk.needsYou.value)
          }}</NuxtLink>
        </p>
        <p class="quiet small">{{ t('device.keeps') }}</p>
        <p class="small" role="status">
          {{ t(ready.data.value?.there ? 'device.ready' : 'device.notReady') }}
        </p>
        <p v-if="(storage.data.value?.share ?? 0) > NEARLY_FULL" class="wrong" role="alert">
          {{ t('device.nearlyFull', { percent: Math.round(100 * storage.data.value!.share) }) }}
        </p>
        <p v-if="Math.abs(minutesOff) > 2" class="amber" role="status">
          {{
            t(minutesOff > 0 ? 'device.clockAhead' : 'device.clockBehind', {
              span: words.span(Math.abs(minutesOff)),
            })
          }}
        </p>
        <SyncButton />
        <details v-if="desk.syncs.value.length">
          <summary>{{ t('device.contacts') }}</summary>
          <ul class="plain-list">
            <li v-for="one in desk.syncs.value" :key="one.at" class="small">
              {{
                words.pair(
                  words.moment(new Date(one.at).toISOString()),
                  t('device.contact', { sent: one.sent, heard: one.received ?? 0 }),
                )
              }}<template v-if="one.files">
                · {{ t('device.contactFiles', { count: one.files }, one.files) }}</template
              ><template v-if="one.refused">
                · {{ t('device.contactRefused', { count: one.refused }, one.refused) }}</template
              ><template v-if="one.ended === 'broken'"> · {{ t('device.contactBroken') }}</template>
            </li>
          </ul>
        </details>
      </section>
      <CarryCard />
      <SettingsCard />
      <section class="card stack">
        <h2>{{ t('device.people') }}</h2>
        <ul class="plain-list">
          <li v-for="one in vault.people" :key="one.id">
            {{ one.displayName }}
            <span v-if="one.id === vault.person?.id" class="small quiet">{{ t('device.atWork') }}</span>
          </li>
        </ul>
        <div class="row">
          <Button severity="secondary" outlined icon="pi pi-lock" :label="t('device.lock')" @click="lock" />
          <Button
            severity="secondary"
            text
            icon="pi pi-sign-out"
            :label="t('device.leave')"
            @click="leaving = true"
          />
        </div>
      </section>
    </main>
    <AskDialog v-model:visible="leaving" :title="t('device.leave')" :act="t('device.leave')" @go="leave">
      <p>{{ t('device.leaveAsk') }}</p>
      <p v-if="onlyHere" class="wrong">
        <strong>{{ t('device.leaveLoses', { count: onlyHere }, onlyHere) }}</strong>
      </p>
    </AskDialog>
  </div>
</template>

<style scoped>
.list {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.list :deep(button) {
  min-height: 44px;
}
.wrong {
  color: var(--brick-7);
}
.amber {
  color: var(--amber-7);
}
li {
  padding: 4px 0;
}
</style>
