<script setup lang="ts">
/** A number of a setting, written in the page's language. It is given when the field is left. */
const {
  inputId,
  min,
  max,
  decimals = false,
  required = false,
} = defineProps<{
  inputId: string
  min?: number
  max?: number
  /** Takes decimals. */
  decimals?: boolean
  required?: boolean
}>()
const number = defineModel<number | null>({ required: true })
const { locale } = useI18n()
const MOST_DIGITS = 9
</script>

<template>
  <InputNumber
    v-model="number"
    :input-id="inputId"
    :min="min"
    :max="max"
    :locale="locale"
    :use-grouping="false"
    :max-fraction-digits="decimals ? MOST_DIGITS : 0"
    :pt="{ pcInputText: { root: { required, class: 'number' } } }"
  />
</template>

<style>
.p-inputnumber .number {
  width: 110px;
}
</style>
