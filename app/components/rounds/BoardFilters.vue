<script setup lang="ts">
import { BOARD_GROUPS, BOARD_SHOWS, BOARD_SORTS } from '~/rounds/boardView'
import type { BoardWork } from '~/rounds/useBoard'

/** How the rows of a board stand: by what together, in which order, which of them. */
const { work, count } = defineProps<{ work: BoardWork; /** All rows of the board. */ count: number }>()
const words = useWords()
const { t } = words
const SIGNS: ReadonlySet<string> = new Set(['overdue', 'awaited', 'draft', 'sentBack', 'sent', 'accepted'])
const shows = [
  { value: null, label: t('boardView.show.all') },
  ...BOARD_SHOWS.map(value => ({
    value,
    label: t(SIGNS.has(value) ? `state.${value}` : `boardView.show.${value}`),
  })),
]
const groups = BOARD_GROUPS.map(value => ({ value, label: t(`boardView.group.${value}`) }))
const sorts = BOARD_SORTS.map(value => ({ value, label: t(`boardView.sort.${value}`) }))
const group = computed({ get: () => work.view.value.group, set: value => void work.ask({ group: value }) })
const sort = computed({ get: () => work.view.value.sort, set: value => void work.ask({ sort: value }) })
const show = computed({ get: () => work.view.value.show, set: value => void work.ask({ show: value }) })
const text = useAskedText(
  () => work.view.value.find,
  find => work.ask({ find }),
)
</script>

<template>
  <div class="fields filters">
    <div class="field">
      <label for="board-find">{{ t('boardView.find') }}</label>
      <InputText id="board-find" v-model="text" :maxlength="100" />
    </div>
    <PickOne v-model="show" input-id="board-show" :label="t('boardView.showLabel')" :options="shows" />
    <PickOne v-model="group" input-id="board-group" :label="t('boardView.groupLabel')" :options="groups" />
    <PickOne v-model="sort" input-id="board-sort" :label="t('boardView.sortLabel')" :options="sorts" />
    <p class="quiet small" role="status">
      {{ t('boardView.of', { count: work.rows.value.length, all: count }, count) }}
    </p>
  </div>
</template>

<style scoped>
.filters {
  align-items: flex-end;
  margin-bottom: 10px;
}
.filters p {
  padding-bottom: 8px;
}
</style>
