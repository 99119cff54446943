<script setup lang="ts">
import { useEventListener } from '@vueuse/core'

/** The office: rail, top strip, the work. */
const { t } = useI18n()
const searching = ref(false)
const showsKeys = ref(false)

useKeys([
  {
    key: '?',
    says: 'keys.all',
    run: () => {
      showsKeys.value = true
    },
  },
  { key: 'Ctrl K', says: 'keys.jump' },
])

function onKey(event: KeyboardEvent) {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    searching.value = true
  }
}
useEventListener('keydown', onKey)
</script>

<template>
  <div class="office">
    <a class="skip" href="#work">{{ t('shell.skip') }}</a>
    <NavRail />
    <div class="side">
      <TopStrip @search="searching = true" />
      <main id="work" tabindex="-1"><slot /></main>
    </div>
    <JumpDialog v-model:visible="searching" />
    <KeysDialog v-model:visible="showsKeys" />
  </div>
</template>

<style scoped>
.office {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  min-height: 100vh;
}
@media (width < 640px) {
  .office {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 62px;
  }
}
main:focus {
  outline: none;
}
.skip {
  position: absolute;
  left: -999px;
  top: 0;
  z-index: 30;
  background: var(--card);
  padding: 8px 12px;
}
.skip:focus {
  left: 0;
}
</style>
