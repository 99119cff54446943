<template>
  <main class="plain"><slot /></main>
</template>

<style scoped>
.plain {
  min-height: 100dvh;
  display: grid;
  place-items: center;
  padding: 24px 16px;
  background: linear-gradient(180deg, #251b31 0, #4b2c5c 46%, var(--paper) 46%);
}
</style>
