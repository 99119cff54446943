<script setup lang="ts">
/** Two days, from and to, under one label; either may be empty. */
const { inputId, label } = defineProps<{ inputId: string; label: string }>()
/** As 2026-11-09; empty where none is chosen. */
const from = defineModel<string>('from', { required: true })
const to = defineModel<string>('to', { required: true })
const { t } = useI18n()
</script>

<template>
  <fieldset class="plain">
    <legend>{{ label }}</legend>
    <span class="range">
      <label class="quiet small" :for="`${inputId}-from`">{{ t('caseList.from') }}</label>
      <DayField v-model="from" :input-id="`${inputId}-from`" />
      <label class="quiet small" :for="`${inputId}-to`">{{ t('caseList.to') }}</label>
      <DayField v-model="to" :input-id="`${inputId}-to`" />
    </span>
  </fieldset>
</template>

<style scoped>
.range {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
