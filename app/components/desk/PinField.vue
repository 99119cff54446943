<script setup lang="ts">
/** Six to eight digits (older PINs have four), on a keypad that a thumb reaches. */
const { inputId, label } = defineProps<{ inputId: string; label: string; describedBy?: string }>()
const pin = defineModel<string>({ required: true })
</script>

<template>
  <div class="field">
    <label :for="inputId">{{ label }}</label>
    <InputText
      :id="inputId"
      v-model="pin"
      type="password"
      inputmode="numeric"
      pattern="[0-9]*"
      maxlength="8"
      autocomplete="off"
      fluid
      required
      class="pin"
      :aria-describedby="describedBy"
    />
  </div>
</template>

<style scoped>
.pin {
  min-height: 48px;
  font-size: 22px;
  letter-spacing: 0.3em;
  text-align: center;
}
</style>
