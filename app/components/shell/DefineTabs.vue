<script setup lang="ts">
/** The places of Define, beside its title. */
const { t } = useI18n()
const route = useRoute()
const TABS = [{ key: 'datasets', to: '/define' }, { key: 'units', to: '/define/units' }]
const isHere = (to: string) => (to === '/define' ? !route.path.startsWith('/define/units') : route.path.startsWith(to))
</script>

<template>
  <nav class="tabs" :aria-label="t('define.tabs.label')">
    <NuxtLink v-for="tab in TABS" :key="tab.key" :to="tab.to" :class="{ here: isHere(tab.to) }" :aria-current="isHere(tab.to) ? 'page' : undefined">{{ t(`define.tabs.${tab.key}`) }}</NuxtLink>
  </nav>
</template>

<style scoped>
.tabs { display: flex; gap: 4px; padding: 3px; border-radius: 10px; background: var(--sand); }
a { padding: 4px 12px; border-radius: 8px; color: var(--ink-7); font-weight: 600; text-decoration: none; }
a.here { background: var(--card); color: var(--plum-7); box-shadow: 0 0 0 1px var(--line); }
</style>
