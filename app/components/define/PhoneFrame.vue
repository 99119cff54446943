<script setup lang="ts">
/** What stands in it is seen as on a phone: 360 points wide. */
const { title } = defineProps<{ title: string }>()
</script>

<template>
  <section class="phone" :aria-label="title">
    <header><BrandMark />{{ title }}</header>
    <div class="screen" tabindex="0"><slot /></div>
  </section>
</template>

<style scoped>
.phone {
  width: 360px;
  max-width: 100%;
  border: 8px solid var(--plum-9);
  border-radius: 26px;
  overflow: hidden;
  background: var(--card);
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 10px 14px;
  background: var(--plum-9);
  color: var(--on-plum);
  font: 600 15px var(--title);
}
.screen {
  height: min(640px, calc(100vh - 210px));
  overflow-y: auto;
  overflow-x: hidden;
}
</style>
