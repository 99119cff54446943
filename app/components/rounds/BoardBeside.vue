<script setup lang="ts">
import type { BoardWork } from '~/rounds/useBoard'

/** The facilities of a board as a short list, and beside it the report of the one that is open. */
const { work, round } = defineProps<{ work: BoardWork; round: string }>()
const emit = defineEmits<{ changed: [] }>()
const { t } = useWords()
const unit = computed(() => work.open.value!)
const list = useTemplateRef('list')
watch(
  unit,
  async () => {
    await nextTick()
    list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' })
  },
  { immediate: true },
)
</script>

<template>
  <div class="beside">
    <nav ref="list" class="card list" :aria-label="t('boardView.list')">
      <template v-for="part in work.parts.value" :key="part.key">
        <h2 v-if="part.name" class="small">{{ part.name }}</h2>
        <button
          v-for="row in part.rows"
          :key="row.unit.code"
          type="button"
          :aria-current="row.unit.code === unit ? 'true' : undefined"
          @click="work.openUnit(row.unit.code)"
        >
          <LanternSign :sign="row.sign" :size="17" />
          <span class="name">{{ row.unit.name }}</span>
          <span class="visually-hidden">{{ t(`state.${row.sign}`) }}</span>
          <WordTag v-if="row.mustFix" tone="brick">{{ row.mustFix }}</WordTag>
        </button>
      </template>
    </nav>
    <section class="report" :aria-label="t('boardView.report')">
      <div class="row spread">
        <span class="quiet small"
          ><kbd>J</kbd> <kbd>K</kbd> {{ t('boardView.step') }} · <kbd>Esc</kbd>
          {{ t('boardView.toBoard') }}</span
        >
        <Button
          size="small"
          severity="secondary"
          text
          icon="pi pi-times"
          :label="t('boardView.toBoard')"
          @click="work.openUnit(null)"
        />
      </div>
      <FacilityReport :round="round" :unit="unit" @changed="emit('changed')" />
    </section>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
.list {
  position: sticky;
  top: 66px;
  max-height: calc(100vh - 82px);
  overflow: auto;
  padding: 6px;
}
.list h2 {
  margin: 10px 8px 4px;
  color: var(--ink-5);
}
.list button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 32px;
  padding: 4px 8px;
  border: 0;
  border-radius: 8px;
  background: none;
  font: inherit;
  text-align: left;
  color: inherit;
  cursor: pointer;
}
.list button[aria-current] {
  background: var(--amber-1);
  font-weight: 600;
}
.name {
  flex: 1;
  overflow-wrap: anywhere;
}
@media (width < 900px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
  .list {
    position: static;
    max-height: 200px;
  }
}
</style>
