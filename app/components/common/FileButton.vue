<script setup lang="ts">
/**
 * Chooses a file: looks like the buttons beside it, and works by keyboard as the browser's own field does.
 */
const {
  label,
  icon,
  accept,
  inputId,
  capture,
  disabled = false,
} = defineProps<{
  label: string
  icon: string
  accept: string
  inputId?: string
  capture?: 'environment'
  disabled?: boolean
}>()
const emit = defineEmits<{ file: [file: File] }>()
function chosen(event: Event) {
  const field = event.target as HTMLInputElement
  const [file] = field.files ?? []
  // The same file may be chosen again.
  field.value = ''
  if (file) emit('file', file)
}
</script>

<template>
  <label class="choose"
    ><i :class="['pi', icon]" aria-hidden="true" />{{ label
    }}<input
      :id="inputId"
      type="file"
      :accept="accept"
      :capture="capture"
      :disabled="disabled"
      class="visually-hidden"
      :aria-label="label"
      @change="chosen"
  /></label>
</template>

<style scoped>
.choose {
  align-self: flex-start;
  display: inline-flex;
  gap: 8px;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid color-mix(in srgb, var(--ink-5) 55%, var(--card));
  border-radius: 8px;
  font-weight: 600;
  cursor: pointer;
}
.choose:focus-within {
  outline: 2px solid var(--plum-5);
}
</style>
