<script setup lang="ts">
import type { DiscrepancyFile } from '#core/contract/discrepancies'
import { readCell, type CellContent } from '#core/report/cell'

export interface CorrectionDraft {
  cell: string
  base: number
  content: CellContent
  /** What came from other devices against the value, and is decided with it. */
  settles?: string[]
}

/**
 * The doubted values, each with a field for the right one. Emits only those that differ; null while one
 * cannot be read.
 */
const { cells } = defineProps<{ cells: DiscrepancyFile['cells'] }>()
const model = defineModel<CorrectionDraft[] | null>({ required: true })
const words = useWords()
const { t, locale } = words
const shownText = (content: CellContent) => (content.kind === 'value' ? words.typed(content.value) : '')
const texts = reactive<Record<string, string>>(
  Object.fromEntries(cells.map(({ cell, content }) => [cell, shownText(content)])),
)
const reads = computed(() =>
  cells.map(cell => ({
    ...cell,
    read: readCell(texts[cell.cell] ?? '', cell.number ?? 'count', locale.value),
  })),
)
watch(
  reads,
  now => {
    model.value = now.every(({ read }) => read.ok)
      ? now.flatMap(({ cell, version, content, conflicts, read }) =>
          read.ok && shownText(read.value) !== shownText(content)
            ? [
                {
                  cell,
                  base: version,
                  content: read.value,
                  ...(conflicts.length && { settles: conflicts.map(({ id }) => id) }),
                },
              ]
            : [],
        )
      : null
  },
  { immediate: true },
)
</script>

<template>
  <div class="fields">
    <div v-for="{ cell, name, number, conflicts, read } in reads" :key="cell" class="field">
      <label :for="`right-${cell}`">{{ words.say(name) }}</label>
      <InputText
        :id="`right-${cell}`"
        v-model="texts[cell]"
        :inputmode="number === 'decimal' ? 'decimal' : 'numeric'"
        :invalid="!read.ok"
        :aria-describedby="read.ok ? undefined : `wrong-${cell}`"
      />
      <small v-for="one in conflicts" :key="one.id" class="wrong">
        {{
          t('cell.otherDevice', {
            device: one.device ?? one.by,
            value:
              one.content.kind === 'value' ? words.number(one.content.value) : t(`cell.${one.content.kind}`),
          })
        }}
      </small>
      <small v-if="!read.ok" :id="`wrong-${cell}`" class="wrong">{{
        words.problem(read.problems[0]!)
      }}</small>
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px;
  align-items: center;
  gap: 4px 10px;
}
.field :deep(input) {
  text-align: right;
}
.wrong {
  grid-column: 1 / -1;
  color: var(--brick-7);
}
</style>
