<script setup lang="ts" generic="T extends string | null">
/** What a list shows, as a row of buttons of which one is pressed. */
const { label, options } = defineProps<{
  label: string
  options: readonly { value: T; label: string }[]
}>()
const chosen = defineModel<T>({ required: true })
defineSlots<{ /** What stands beside them, as a search. */ default?: () => unknown }>()
</script>

<template>
  <div class="row" role="group" :aria-label="label">
    <Button
      v-for="one in options"
      :key="one.value ?? ''"
      size="small"
      :severity="chosen === one.value ? 'primary' : 'secondary'"
      :outlined="chosen !== one.value"
      :aria-pressed="chosen === one.value"
      :label="one.label"
      @click="chosen = one.value"
    />
    <slot />
  </div>
</template>
