<script setup lang="ts">
/** One title, what is said beside it, one primary action. */
const { title } = defineProps<{ title: string }>()
useHead({ title: () => `${title} · Eastward Lantern` })
</script>

<template>
  <div class="head">
    <h1>{{ title }}</h1>
    <slot />
    <div class="acts"><slot name="acts" /></div>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 14px;
  flex-wrap: wrap;
  margin-bottom: 12px;
  min-height: 36px;
}
.acts {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
