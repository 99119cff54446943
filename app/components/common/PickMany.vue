<script setup lang="ts">
/** Several of a list, in the order in which they were chosen, with the label over it. */
const { inputId, label, options } = defineProps<{
  inputId: string
  label: string
  options: readonly { value: string; label: string }[]
}>()
const value = defineModel<string[]>({ required: true })
</script>

<template>
  <div class="field wide">
    <span :id="`${inputId}-label`" class="label">{{ label }}</span>
    <MultiSelect
      v-model="value"
      :input-id="inputId"
      :options="options as { value: string; label: string }[]"
      option-label="label"
      option-value="value"
      display="chip"
      filter
      :aria-labelledby="`${inputId}-label`"
    />
  </div>
</template>
