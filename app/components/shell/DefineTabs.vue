<script setup lang="ts">
/** The places of Define, beside its title. */
const { t } = useI18n()
const route = useRoute()
const session = useSession()
const TABS = [
  { key: 'datasets', to: '/define' },
  { key: 'registers', to: '/define/registers', defines: true },
  { key: 'lists', to: '/define/lists', defines: true },
  { key: 'units', to: '/define/units' },
  { key: 'bundle', to: '/define/bundle', defines: true },
]
const shown = computed(() => TABS.filter(({ defines }) => !defines || session.can('define')))
const isHere = (to: string) => (to === '/define' ? route.path === '/define' : route.path.startsWith(to))
</script>

<template>
  <nav class="tabs" :aria-label="t('define.tabs.label')">
    <NuxtLink
      v-for="tab in shown"
      :key="tab.key"
      :to="tab.to"
      :class="{ here: isHere(tab.to) }"
      :aria-current="isHere(tab.to) ? 'page' : undefined"
      >{{ t(`define.tabs.${tab.key}`) }}</NuxtLink
    >
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 4px;
  padding: 3px;
  border-radius: 10px;
  background: var(--sand);
}
a {
  padding: 4px 12px;
  border-radius: 8px;
  color: var(--ink-7);
  font-weight: 600;
  text-decoration: none;
}
a.here {
  background: var(--card);
  color: var(--plum-7);
  box-shadow: 0 0 0 1px var(--line);
}
</style>
