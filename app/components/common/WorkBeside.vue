<script setup lang="ts" generic="Line extends { id: string }, Filter extends string">
import type { Load } from '~/common/useLoad'

/** A list of things to decide, by what is asked of it, beside the one that is open. */
const { title, load, names, filters, chosen, none, one } = defineProps<{
  title: string
  load: Load<{ lines: Line[]; more: boolean; counts: Record<Filter, number> }> & {
    showMore: () => Promise<void>
  }
  /** What the lines get their names from. */
  names: Load<unknown>
  /** What can be asked for, with what it is called. */
  filters: readonly { value: Filter; label: string }[]
  /** The identifier of the one that is open. */
  chosen: string | null
  /** What an empty list says. */
  none: string
  /** What the one that is open is called. */
  one: string
}>()
const filter = defineModel<Filter>({ required: true })
const emit = defineEmits<{ choose: [id: string] }>()
defineSlots<{ line: (of: { one: Line }) => unknown; default: () => unknown }>()
const words = useWords()
const { t } = words
const counted = computed(() =>
  filters.map(({ value, label }) => ({
    value,
    label: `${label} ${words.number(load.data.value?.counts[value] ?? 0)}`,
  })),
)
</script>

<template>
  <div class="page">
    <PageHead :title="title"
      ><NuxtLink to="/resolve">{{ t('place.resolve') }}</NuxtLink></PageHead
    >
    <FilterButtons v-model="filter" class="filter" :label="title" :options="counted" />
    <LoadState :load="names">
      <div class="beside">
        <section :aria-label="title">
          <LoadState
            v-slot="{ data }"
            :load="load"
            :empty="load.data.value?.lines.length === 0"
            :empty-text="none"
          >
            <ul class="plain-list">
              <li v-for="line in data.lines" :key="line.id">
                <button
                  type="button"
                  class="card line"
                  :aria-current="chosen === line.id ? 'true' : undefined"
                  @click="emit('choose', line.id)"
                >
                  <slot name="line" :one="line" />
                </button>
              </li>
            </ul>
            <ShowMore :more="data.more" @show="load.showMore()" />
          </LoadState>
        </section>
        <section v-if="chosen" class="card" :aria-label="one"><slot /></section>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.filter {
  margin-bottom: 12px;
}
.beside {
  display: grid;
  grid-template-columns: minmax(260px, 380px) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
.line {
  display: flex;
  flex-direction: column;
  gap: 2px;
  width: 100%;
  text-align: left;
  font: inherit;
  color: inherit;
  margin-bottom: 8px;
  cursor: pointer;
}
.line[aria-current] {
  border-color: var(--plum-7);
  box-shadow: inset 3px 0 0 var(--plum-7);
}
@media (width < 1024px) {
  .beside {
    grid-template-columns: 1fr;
  }
}
</style>
