<script setup lang="ts">
import { useElementVisibility } from '@vueuse/core'
import { layOut } from '#core/report/layout'
import type { Section } from '#core/report/edition'
import { cellAt, linesOf, numberBlocks, rowsOfCells } from '~/reports/numberedBlocks'
import type { ShownReport } from '~/reports/useReportEntry'

/** One section as on paper: lists, and grids by breakdown. */
const {
  entry,
  section,
  nearOnly = false,
} = defineProps<{
  entry: ShownReport
  section: Section
  /** On a phone: the lines of a long section are made when somebody comes near them. */
  nearOnly?: boolean
}>()
const emit = defineEmits<{ command: [letter: string, cell: string] }>()
const root = useTemplateRef('root')

const blocks = computed(() => {
  const items = section.items.filter(({ code }) => entry.isShown(code))
  return numberBlocks(layOut(entry.file.edition, { ...section, items }))
})
const rows = computed(() => {
  const last = blocks.value.at(-1)
  return last ? last.first + linesOf(last) : 0
})
const rowOf = computed(() => rowsOfCells(blocks.value))
/** The row that the person is in. */
const rowNow = computed(() => (entry.active.value ? (rowOf.value.get(entry.active.value) ?? 0) : 0))
/** So many rows after it are there whatever happens: more than a screen shows. */
const AHEAD = 20
/** So many rows are always made: most sections have no more. */
const ALWAYS = 60
const rest = useTemplateRef('rest')
/** What is not made yet comes into sight, or is two screens away from it. */
const isNear = useElementVisibility(rest, { rootMargin: '200% 0px' })
/** So many rows of the section are made by now: hundreds at once would hold up a slow phone. */
const made = useGradually({
  all: () => rows.value,
  needed: () => Math.max(ALWAYS, rowNow.value + AHEAD),
  isNear: () => !nearOnly || isNear.value,
})

/** A field of a number, or the first thing of an answer that can be touched. */
function fieldAt(row: number, column: number): HTMLElement | null {
  const inRow = [...(root.value?.querySelectorAll<HTMLElement>(`[data-row="${row}"]`) ?? [])]
  const found = inRow[Math.min(Math.max(column, 0), inRow.length - 1)]
  if (!found || found instanceof HTMLInputElement) return found ?? null
  return found.querySelector<HTMLElement>('input, button, textarea, select')
}

const move = (row: number, column: number) => fieldAt(row, column)?.focus()

/** A range from a spreadsheet fills cells from this one to the right and down. What is computed is passed over. */
async function paste(row: number, column: number, text: string) {
  const filling = fillingOf(entry)
  if (!filling) return
  // As they were when she copied: an answer among these may hide lines or show others.
  const places = blocks.value
  const lines = text.replace(/\r/g, '').replace(/\n$/, '').split('\n')
  for (const [down, line] of lines.entries()) {
    for (const [right, value] of line.split('\t').entries()) {
      const cell = cellAt(places, row + down, column + right)
      if (cell && cell.item.kind !== 'computed') await filling.type(cell.key, value)
    }
  }
  void filling.outbox.flush()
}
</script>

<template>
  <div ref="root" class="section">
    <ReportBlock
      v-for="block in blocks"
      :key="block.first"
      :entry="entry"
      :block="block"
      :made="made - block.first"
      @command="(letter, cell) => emit('command', letter, cell)"
      @move="move"
      @paste="paste"
    />
    <!-- As high as the lines that are to come, so that one can scroll to them. -->
    <div v-if="made < rows" ref="rest" class="rest" :style="{ '--lines': rows - made }" />
    <SectionIndicators :entry="entry" :section="section" />
  </div>
</template>

<style scoped>
/* Asked by its own width, not the window's: the preview is a phone on a large screen. */
.section {
  display: flex;
  flex-direction: column;
  container-type: inline-size;
}
.rest {
  height: calc(var(--lines) * 62px);
}
</style>
