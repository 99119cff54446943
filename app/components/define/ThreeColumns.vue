<script setup lang="ts">
/**
 * The outline, what is worked on, and what it looks like: each scrolls by itself, so that the three stay
 * together.
 */
</script>

<template>
  <div class="three">
    <div class="column"><slot name="outline" /></div>
    <div class="column"><slot /></div>
    <aside class="column"><slot name="beside" /></aside>
  </div>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: minmax(230px, 1fr) minmax(0, 1.6fr) 362px;
  gap: 18px;
  align-items: start;
}
.column {
  position: sticky;
  top: 62px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  max-height: calc(100vh - 70px);
  overflow-y: auto;
  padding: 2px 2px 16px;
}
:slotted(*) {
  flex: none;
}
@media (width < 1100px) {
  .three {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.6fr);
  }
  aside.column {
    grid-column: 1 / -1;
  }
}
@media (width < 760px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
  }
  .column {
    position: static;
    max-height: none;
  }
}
</style>
