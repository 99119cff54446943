<script setup lang="ts">
import { LANGUAGES } from '#core/languages'
import type { CardMade, DeviceSettings } from '#core/contract/devices'
import { isPin, pinCheck } from '#core/protect/pin-key'
import type { Units } from '~/units/useUnits'

/** A new pairing card: for which facility, how many devices, how long, and what they are set to. */
const { units } = defineProps<{ units: Units }>()
const emit = defineEmits<{
  made: [card: CardMade & { name: string; unit: string; settings: DeviceSettings }]
  cancel: []
}>()
const { t, locale } = useI18n()
const unit = ref<string | null>(null)
const name = ref('')
const uses = ref(1)
const days = ref(7)
const settings = reactive<DeviceSettings>({
  language: locale.value === 'fr' ? 'fr' : 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 10,
  keepDays: 90,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: false },
})
const MAY = ['openReports', 'changeSent', 'deleteDrafts', 'changeSettings'] as const
const { busy, problem, run } = useAct()
const unitName = computed(() => (unit.value ? (units.byCode.value.get(unit.value)?.name ?? unit.value) : ''))
/** The PIN that opens locked settings: the card carries what it stretches to. */
const pin = ref('')
const pinWrong = ref(false)
async function make() {
  pinWrong.value = pin.value !== '' && !isPin(pin.value)
  if (pinWrong.value) return
  const label = name.value.trim() || unitName.value
  settings.settingsPin = pin.value && !settings.may.changeSettings ? await pinCheck(pin.value) : undefined
  await run(async () => {
    const card = await callApi('POST /api/pairing-cards', {
      body: {
        name: label,
        unit: unit.value!,
        uses: uses.value,
        days: days.value,
        settings: JSON.parse(JSON.stringify(settings)) as DeviceSettings,
      },
    })
    emit('made', { ...card, name: label, unit: unitName.value, settings: { ...settings } })
  })
}
</script>

<template>
  <form class="card stack" @submit.prevent="make">
    <h2>{{ t('devices.newCard') }}</h2>
    <div class="fields">
      <div class="field wide">
        <label for="card-unit">{{ t('tryOut.facility') }}</label><UnitPicker
          v-model="unit"
          input-id="card-unit"
          :units="units"
        />
      </div>
      <div class="field wide">
        <label for="card-name">{{ t('devices.cardName') }}</label><InputText
          id="card-name"
          v-model="name"
          maxlength="80"
          :placeholder="unitName"
        />
      </div>
      <div class="field">
        <label for="card-uses">{{ t('devices.uses') }}</label><NumberField
          v-model="uses"
          input-id="card-uses"
          :min="1"
          :max="500"
          required
        />
      </div>
      <div class="field">
        <label for="card-days">{{ t('devices.days') }}</label><NumberField
          v-model="days"
          input-id="card-days"
          :min="1"
          :max="90"
          required
        />
      </div>
      <PickOne
        v-model="settings.language"
        input-id="card-language"
        :label="t('devices.language')"
        :options="
          LANGUAGES.map(one => ({
            value: one,
            label: t('shell.language', {}, { locale: one }),
          }))
        "
      />
    </div>
    <div class="fields">
      <PickOne
        v-model="settings.textSize"
        input-id="card-text"
        :label="t('devices.textSize')"
        :options="(['usual', 'large'] as const).map(one => ({ value: one, label: t(`devices.text.${one}`) }))"
      />
      <div class="field">
        <label for="card-lock">{{ t('device.lockMinutes') }}</label><NumberField
          v-model="settings.lockMinutes"
          input-id="card-lock"
          :min="1"
          :max="120"
          required
        />
      </div>
      <div class="field">
        <label for="card-keep">{{ t('devices.keepDays') }}</label><NumberField
          v-model="settings.keepDays"
          input-id="card-keep"
          :min="1"
          :max="365"
          required
        />
      </div>
      <div v-if="!settings.may.changeSettings" class="field">
        <label for="card-pin">{{ t('devices.settingsPin') }}</label><InputText
          id="card-pin"
          v-model="pin"
          inputmode="numeric"
          maxlength="8"
          autocomplete="off"
        />
      </div>
    </div>
    <label><input v-model="settings.wifiOnly" type="checkbox" /> {{ t('device.wifiOnly') }}</label>
    <fieldset class="plain">
      <legend>{{ t('devices.may') }}</legend>
      <label v-for="one in MAY" :key="one"
        ><input v-model="settings.may[one]" type="checkbox" /> {{ t(`devices.mayDo.${one}`) }}</label
      >
    </fieldset>
    <p v-if="pinWrong" role="alert" class="wrong">{{ t('lock.pinShape') }}</p>
    <FormEnd
      :problem="problem"
      :label="t('devices.make')"
      :busy="busy"
      :disabled="!unit"
      @cancel="emit('cancel')"
    />
  </form>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
