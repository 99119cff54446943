<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { DeviceSettings } from '#core/contract/devices'
import { LANGUAGES } from '#core/languages'

/** What this device is set to. Where its card locks them, the administrator's PIN opens them. */
const { t, locale } = useI18n()
const vault = useVault()
const opened = ref(false)
const pin = ref('')
const wrong = ref(false)
/** Seconds until the next try. */
const seconds = ref(0)
const settings = computed(() => vault.device!.settings)
const locked = computed(() => !settings.value.may.changeSettings && !opened.value)
async function open() {
  busy.value = true
  opened.value = await vault.opensSettings(pin.value)
  busy.value = false
  wrong.value = !opened.value
  pin.value = ''
  tick()
}
const busy = ref(false)
const tick = () => {
  seconds.value = Math.ceil(vault.settingsWaitLeft() / 1000)
}
useIntervalFn(tick, 1000, { immediateCallback: true })
const change = (next: Partial<DeviceSettings>) => vault.saveSettings({ ...settings.value, ...next })
</script>

<template>
  <section class="card stack">
    <h2>{{ t('device.settings') }}</h2>
    <div class="row" role="group" :aria-label="t('devices.language')">
      <Button
        v-for="language in LANGUAGES"
        :key="language"
        :severity="language === locale ? 'primary' : 'secondary'"
        :outlined="language !== locale"
        :label="t('shell.language', {}, { locale: language })"
        :aria-pressed="language === locale"
        @click="locale = language"
      />
    </div>
    <template v-if="locked">
      <p class="quiet small">{{ t(settings.settingsPin ? 'device.lockedPin' : 'device.locked') }}</p>
      <form v-if="settings.settingsPin" class="stack" @submit.prevent="open">
        <PinField v-model="pin" input-id="settings-pin" :label="t('device.adminPin')" />
        <p v-if="seconds > 0" class="wrong" role="alert">{{ t('lock.wait', { seconds }, seconds) }}</p>
        <p v-else-if="wrong" class="wrong" role="alert">{{ t('lock.wrong') }}</p>
        <Button
          type="submit"
          severity="secondary"
          outlined
          :label="t('lock.open')"
          :loading="busy"
          :disabled="pin.length < 4 || seconds > 0"
        />
      </form>
    </template>
    <template v-else>
      <label
        ><input
          type="checkbox"
          :checked="settings.textSize === 'large'"
          @change="change({ textSize: settings.textSize === 'large' ? 'usual' : 'large' })"
        />
        {{ t('device.largeText') }}</label
      >
      <label
        ><input
          type="checkbox"
          :checked="settings.wifiOnly"
          @change="change({ wifiOnly: !settings.wifiOnly })"
        />
        {{ t('device.wifiOnly') }}</label
      >
      <label class="row"
        >{{ t('device.lockMinutes') }}
        <NumberField
          :model-value="settings.lockMinutes"
          input-id="lock-minutes"
          :min="1"
          :max="120"
          @update:model-value="minutes => change({ lockMinutes: minutes ?? 10 })"
      /></label>
    </template>
  </section>
</template>

<style scoped>
label {
  min-height: 32px;
}
.wrong {
  color: var(--brick-7);
}
</style>
