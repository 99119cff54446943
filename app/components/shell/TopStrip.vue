<script setup lang="ts">
const emit = defineEmits<{ search: [] }>()
const { t } = useI18n()
const session = useSession()
const branch = computed(() => session.view?.branch)
const above = computed(() => (branch.value ? [...branch.value.above] : []))
/** In the list, for all districts: no code of a unit, and not empty, which the list would show as nothing chosen. */
const ALL = '*'
const district = computed({
  get: () => session.district ?? ALL,
  set: code => {
    session.district = code === ALL ? null : code
  },
})
const options = computed(() => [
  ...(session.view?.districts ?? []),
  { code: ALL, name: t('shell.allDistricts') },
])
const chooses = computed(() => (session.view?.districts.length ?? 0) > 1)
</script>

<template>
  <header class="strip">
    <div class="where">
      <span v-if="session.view" class="quiet">{{
        chooses ? session.view.installation : (above.at(-1)?.name ?? session.view.installation)
      }}</span>
      <span class="quiet" aria-hidden="true">›</span>
      <Select
        v-if="chooses"
        v-model="district"
        label-id="strip-district"
        :options="options"
        option-label="name"
        option-value="code"
        size="small"
        :aria-label="t('shell.district')"
      />
      <strong v-else>{{ branch?.unit.name }}</strong>
    </div>
    <slot />
    <button class="jump" type="button" @click="emit('search')">
      <i class="pi pi-search" aria-hidden="true" /><span class="hint">{{ t('jump.hint') }}</span>
      <kbd class="hint">Ctrl K</kbd>
    </button>
    <PersonMenu />
  </header>
</template>

<style scoped>
.strip {
  position: sticky;
  top: 0;
  z-index: 5;
  height: 52px;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 22px;
  background: var(--card);
  border-bottom: 1px solid var(--line);
}
.where {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-right: auto;
}
.jump {
  height: 32px;
  min-width: 268px;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  padding: 0 8px 0 12px;
  font: inherit;
  color: var(--ink-5);
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 8px;
  cursor: text;
}
.jump .pi {
  display: none;
}
@media (width < 900px) {
  .jump {
    min-width: 0;
  }
}
/* A telephone: the way to search is a sign. */
@media (width < 640px) {
  .strip {
    padding: 0 12px;
  }
  .jump .pi {
    display: block;
  }
  .jump .hint {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
}
</style>
