<script setup lang="ts">
/** The facility's pages: made for a small screen held in one hand. */
const { t } = useI18n()
const route = useRoute()
const showsKeys = ref(false)
const PLACES = [
  { key: 'due', to: '/desk', icon: 'pi-calendar' },
  { key: 'cases', to: '/desk/cases', icon: 'pi-users' },
  { key: 'questions', to: '/desk/questions', icon: 'pi-comment' },
  { key: 'device', to: '/desk/device', icon: 'pi-mobile' },
]
useOpenDesk()
// Thousands of cases take a slow phone some seconds to open: it does so before somebody asks for them.
useDeskCases(false)
const vault = useVault()
const large = computed(() => vault.device?.settings.textSize === 'large')
const isActive = (to: string) =>
  to === '/desk'
    ? !['/desk/cases', '/desk/questions', '/desk/device'].some(other => route.path.startsWith(other))
    : route.path.startsWith(to)
useKeys([
  {
    key: '?',
    says: 'keys.all',
    run: () => {
      showsKeys.value = true
    },
  },
])
</script>

<template>
  <div :class="['desk', { large }]">
    <slot />
    <nav :aria-label="t('shell.places')">
      <NuxtLink
        v-for="place in PLACES"
        :key="place.key"
        :to="place.to"
        :class="{ active: isActive(place.to) }"
        :aria-current="isActive(place.to) ? 'page' : undefined"
      >
        <i :class="['pi', place.icon]" aria-hidden="true" />{{ t(`place.${place.key}`) }}
      </NuxtLink>
    </nav>
    <KeysDialog v-model:visible="showsKeys" />
  </div>
</template>

<style scoped>
.desk.large {
  zoom: 1.18;
}
.desk {
  min-height: 100dvh;
  display: flex;
  flex-direction: column;
  padding-bottom: 58px;
}
nav {
  position: fixed;
  inset: auto 0 0;
  z-index: 6;
  display: flex;
  justify-content: space-around;
  background: var(--card);
  border-top: 1px solid var(--line);
}
nav a {
  flex: 1;
  min-height: 57px;
  max-width: 160px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 4px;
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-5);
  text-decoration: none;
}
nav a.active {
  color: var(--plum-7);
  box-shadow: inset 0 3px var(--amber-5);
}
</style>
