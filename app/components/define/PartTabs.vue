<script setup lang="ts">
/** The parts of what is being defined, one at a time. */
const { parts, label } = defineProps<{
  parts: readonly { key: string; label: string; mark?: string }[]
  label: string
}>()
const shown = defineModel<string>({ required: true })
</script>

<template>
  <nav class="parts" :aria-label="label">
    <button
      v-for="part in parts"
      :key="part.key"
      type="button"
      :aria-current="part.key === shown ? 'page' : undefined"
      @click="shown = part.key"
    >
      {{ part.label }}<span v-if="part.mark" class="mark">{{ part.mark }}</span>
    </button>
  </nav>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin-bottom: 16px;
  border-bottom: 1px solid var(--line);
}
button {
  padding: 7px 13px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font: 600 15px var(--body);
  color: var(--ink-7);
  cursor: pointer;
}
button[aria-current] {
  border-bottom-color: var(--amber-5);
  color: var(--plum-7);
}
.mark {
  margin-left: 6px;
  padding: 0 6px;
  border-radius: 8px;
  background: var(--amber-1);
  color: var(--amber-7);
  font-size: 13px;
}
</style>
