<script setup lang="ts" generic="T extends string | number | null">
/** One of a short list, with its label over it; a long list can be searched. */
const {
  inputId,
  label,
  options,
  disabled = false,
  labelHidden = false,
} = defineProps<{
  inputId: string
  label: string
  options: readonly { value: T; label: string }[]
  disabled?: boolean
  labelHidden?: boolean
}>()
const value = defineModel<T>({ required: true })
const LONG = 9
/** Nothing chosen is a choice with words, where the list has one. */
const unchosen = computed(() => options.find(one => one.value === null)?.label ?? '–')
</script>

<template>
  <div class="field pick">
    <span :id="`${inputId}-label`" :class="labelHidden ? 'visually-hidden' : 'label'">{{ label }}</span>
    <Select
      v-model="value"
      :label-id="inputId"
      :options="options as { value: T; label: string }[]"
      option-label="label"
      option-value="value"
      :disabled="disabled"
      :filter="options.length > LONG"
      :placeholder="unchosen"
      :aria-labelledby="`${inputId}-label`"
    />
  </div>
</template>

<style scoped>
.pick {
  min-width: 150px;
  max-width: 340px;
}
</style>
