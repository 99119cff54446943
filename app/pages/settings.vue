<script setup lang="ts">
import { dateFormat } from '#core/formats'

/** What the installation is called, and by what its rounds are made: time zone, weeks, financial year. */
const { t, locale } = useI18n()
const {
  load,
  form,
  isChanged,
  consequences,
  isRefused,
  movesRounds,
  problem,
  busy,
  save: change,
  reset,
} = useSettings()

const DAY_MS = 86_400_000
/** 1 January 2024 was a Monday. */
const MONDAY = Date.UTC(2024, 0, 1)
const said = (instant: number, parts: Intl.DateTimeFormatOptions) =>
  dateFormat(locale.value, { ...parts, timeZone: 'UTC' }).format(instant)
const weekdays = computed(() =>
  Array.from({ length: 7 }, (_, at) => ({
    value: at + 1,
    label: said(MONDAY + at * DAY_MS, { weekday: 'long' }),
  })),
)
const months = computed(() =>
  Array.from({ length: 12 }, (_, at) => ({
    value: at + 1,
    label: said(Date.UTC(2024, at, 1), { month: 'long' }),
  })),
)
// The list of the browser lacks some that an installation may have, as those that are named by their distance.
const zones = computed(() =>
  [...new Set([...Intl.supportedValuesOf('timeZone'), ...(form.value ? [form.value.timeZone] : [])])]
    .sort()
    .map(zone => ({ value: zone, label: zone })),
)

const asks = ref(false)
const saved = ref(false)
watch(isChanged, now => {
  if (now) saved.value = false
})
async function save() {
  saved.value = await change()
  if (saved.value) asks.value = false
}
const go = () => (movesRounds.value ? (asks.value = true) : void save())
</script>

<template>
  <div class="page">
    <PageHead :title="t('settings.title')" />
    <div class="stack narrow">
      <LoadState :load="load">
        <form v-if="form" class="card stack" @submit.prevent="go">
          <div class="field">
            <label for="installation">{{ t('settings.installation') }}</label>
            <InputText
              id="installation"
              v-model="form.installation"
              required
              minlength="2"
              maxlength="100"
              fluid
            />
          </div>
          <PickOne v-model="form.timeZone" input-id="zone" :label="t('settings.zone')" :options="zones" />
          <p class="quiet small">{{ t('settings.zoneSay') }}</p>
          <PickOne
            v-model="form.firstWeekday"
            input-id="weekday"
            :label="t('settings.weekday')"
            :options="weekdays"
          />
          <p class="quiet small">{{ t('settings.weekdaySay') }}</p>
          <PickOne
            v-model="form.firstMonth"
            input-id="month"
            :label="t('settings.month')"
            :options="months"
          />
          <p class="quiet small">{{ t('settings.monthSay') }}</p>
          <ProblemNote :problem="problem" />
          <div class="row">
            <Button
              type="submit"
              :label="t('settings.save')"
              :loading="busy"
              :disabled="!isChanged || isRefused || !consequences"
            />
            <Button v-if="isChanged" severity="secondary" text :label="t('settings.reset')" @click="reset" />
            <span v-if="saved" role="status">{{ t('settings.saved') }}</span>
          </div>
        </form>
      </LoadState>
      <SettingsConsequences v-if="consequences" :consequences="consequences" />
      <AskDialog
        v-if="consequences"
        v-model:visible="asks"
        :title="t('settings.ask')"
        :act="t('settings.change')"
        :busy="busy"
        :problem="problem"
        @go="save"
      >
        <SettingsConsequences :consequences="consequences" />
      </AskDialog>
    </div>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 560px;
}
</style>
