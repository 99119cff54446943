<script setup lang="ts">
import { layOut } from '#core/report/layout'
import type { Section } from '#core/report/edition'
import { cellAt, linesOf, numberBlocks } from '~/reports/numberedBlocks'
import type { ShownReport } from '~/reports/useReportEntry'

/** One section as on paper: lists, and grids by breakdown. */
const { entry, section } = defineProps<{ entry: ShownReport; section: Section }>()
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
/** The row that the person is in, and how many after it a screen may show. */
const rowNow = ref(0)
const AHEAD = 20
/** So many rows of the section are made by now: hundreds at once would hold up a slow phone. */
const made = useGradually(
  () => rows.value,
  () => rowNow.value + AHEAD,
)
function noteRow({ target }: FocusEvent) {
  const row = (target as HTMLElement).closest<HTMLElement>('[data-row]')?.dataset.row
  if (row) rowNow.value = Number(row)
}

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
  <div ref="root" class="section" @focusin="noteRow">
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
</style>
