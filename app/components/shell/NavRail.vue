<script setup lang="ts">
/** The cycle, in order, with words under the icons. */
const { t } = useI18n()
const route = useRoute()
const PLACES = [
  { key: 'today', to: '/', icon: 'pi-sun' },
  { key: 'define', to: '/define', icon: 'pi-sliders-h' },
  { key: 'gather', to: '/gather', icon: 'pi-inbox' },
  { key: 'resolve', to: '/resolve', icon: 'pi-comments' },
  { key: 'report', to: '/report', icon: 'pi-flag' },
  { key: 'extracts', to: '/extracts', icon: 'pi-download', needs: 'extract' },
  { key: 'devices', to: '/devices', icon: 'pi-mobile', needs: 'manageDevices' },
  { key: 'people', to: '/people', icon: 'pi-users', needs: 'managePeople' },
  { key: 'jobs', to: '/jobs', icon: 'pi-history', needs: 'operate' },
  { key: 'settings', to: '/settings', icon: 'pi-cog', needs: 'operate' },
] as const
const session = useSession()
const shown = computed(() => PLACES.filter(place => !('needs' in place) || session.can(place.needs)))
const isActive = (to: string) =>
  to === '/'
    ? route.path === '/'
    : route.path.startsWith(to) ||
      (to === '/gather' && ['/facility', '/facilities', '/cases'].some(path => route.path.startsWith(path)))
</script>

<template>
  <nav class="rail" :aria-label="t('shell.cycle')">
    <div class="brand"><BrandMark /></div>
    <NuxtLink
      v-for="place in shown"
      :key="place.key"
      :to="place.to"
      :class="['place', { active: isActive(place.to) }]"
      :aria-current="isActive(place.to) ? 'page' : undefined"
    >
      <i :class="['pi', place.icon]" aria-hidden="true" />
      {{ t(`place.${place.key}`) }}
    </NuxtLink>
  </nav>
</template>

<style scoped>
.rail {
  position: sticky;
  top: 0;
  height: 100vh;
  width: 76px;
  background: var(--plum-9);
  display: flex;
  flex-direction: column;
  align-items: stretch;
  gap: 2px;
  padding: 8px 6px;
}
.brand {
  height: 44px;
  display: grid;
  place-items: center;
  margin-bottom: 6px;
}
.place {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 5px;
  padding: 9px 2px 8px;
  border-radius: 10px;
  border-left: 3px solid transparent;
  color: #d9cfe3;
  font-size: 13px;
  font-weight: 600;
  text-decoration: none;
}
.place i {
  font-size: 16px;
}
.place:hover {
  background: rgb(255 255 255 / 7%);
}
.place.active {
  background: #3a2a4a;
  color: #fff;
  border-left-color: #eaa234;
}
.place:focus-visible {
  outline-color: #eaa234;
}
/* A telephone has no room at the side: the cycle stands below, and can be moved sideways. */
@media (width < 640px) {
  .rail {
    position: fixed;
    top: auto;
    bottom: 0;
    z-index: 6;
    width: 100%;
    height: 62px;
    flex-direction: row;
    overflow-x: auto;
    scrollbar-width: none;
    padding: 4px 6px;
  }
  .brand {
    display: none;
  }
  .place {
    flex: 1 0 64px;
    padding: 6px 2px;
    border-left: 0;
    border-top: 3px solid transparent;
  }
  .place.active {
    border-top-color: #eaa234;
  }
}
</style>
