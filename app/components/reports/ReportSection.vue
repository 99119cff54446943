<script setup lang="ts">
import { isTypedNumber } from '#core/report/asked'
import { layOut } from '#core/report/layout'
import { wordsIn, type Cell, type Section } from '#core/report/edition'
import type { ShownReport } from '~/reports/useReportEntry'

/** One section as on paper: lists, and grids by breakdown. What is doubtful stands under its line. */
const { entry, section } = defineProps<{ entry: ShownReport; section: Section }>()
const emit = defineEmits<{ command: [letter: string, cell: string] }>()
const { locale } = useI18n()
const root = useTemplateRef('root')
const say = (words: Record<string, string>) => wordsIn(words, locale.value)

/** Blocks with the number of their first row, so that arrows can walk through the whole section. */
const blocks = computed(() => {
  let row = 0
  const items = section.items.filter(({ code }) => entry.isShown(code))
  return layOut(entry.file.edition, { ...section, items }).map(block => {
    const first = row
    row += block.kind === 'list' ? block.cells.length : block.rows.length
    return { ...block, first }
  })
})

const rows = computed(() => {
  const last = blocks.value.at(-1)
  return last ? last.first + (last.kind === 'list' ? last.cells.length : last.rows.length) : 0
})
/** So many rows of the section are made by now: hundreds at once would hold up a slow phone. */
const made = useGradually(() => rows.value)

const STRETCH = 10
/** Lines in stretches, each with its number in its block; those that are made by now. */
const stretchesOf = <T,>(lines: readonly T[], first: number): { line: T; at: number }[][] =>
  Array.from(
    { length: Math.ceil(Math.min(lines.length, Math.max(made.value - first, 0)) / STRETCH) },
    (_, stretch) =>
      lines
        .slice(stretch * STRETCH, (stretch + 1) * STRETCH)
        .map((line, at) => ({ line, at: stretch * STRETCH + at })),
  )

/** A field of a number, or the first thing of an answer that can be touched. */
function fieldAt(row: number, column: number): HTMLElement | null {
  const inRow = [...(root.value?.querySelectorAll<HTMLElement>(`[data-row="${row}"]`) ?? [])]
  const found = inRow[Math.min(Math.max(column, 0), inRow.length - 1)]
  if (!found || found instanceof HTMLInputElement) return found ?? null
  return found.querySelector<HTMLElement>('input, button, textarea, select')
}
const isTyped = ({ item }: Cell) => isTypedNumber(item.kind)

function move(row: number, column: number, rows: number, columns: number) {
  fieldAt(row + rows, column + columns)?.focus()
}

/** A range from a spreadsheet fills cells from this one to the right and down. */
async function paste(row: number, column: number, text: string) {
  const lines = text.replace(/\r/g, '').replace(/\n$/, '').split('\n')
  for (const [down, line] of lines.entries()) {
    for (const [right, value] of line.split('\t').entries()) {
      const place = `[data-row="${row + down}"]`
      const inRow = root.value?.querySelector<HTMLElement>(
        `input${place}[data-column="${column + right}"], ${column + right === 0 ? place : ':not(*)'}`,
      )
      const cell = inRow?.dataset.cell ?? inRow?.dataset.answer
      if (cell) await fillingOf(entry)?.type(cell, value)
    }
  }
  void fillingOf(entry)?.outbox.flush()
}
</script>

<template>
  <div ref="root" class="section">
    <template v-for="block in blocks" :key="block.first">
      <div v-if="block.kind === 'list'" class="list">
        <div
          v-for="stretch in stretchesOf(block.cells, block.first)"
          :key="stretch[0]!.at"
          class="stretch"
          :style="{ '--lines': stretch.length }"
        >
          <div v-for="{ line: cell, at } in stretch" :key="cell.key" class="line">
            <span v-if="isTyped(cell)" class="name"
              >{{ say(cell.item.name)
              }}<NeededMark v-if="cell.item.required" :entry="entry" :cell="cell.key" /><small>{{
                say(cell.item.definition)
              }}</small></span
            >
            <CellAnswer v-else :entry="entry" :cell="cell.key" :row="block.first + at" />
            <CellInput
              v-if="isTyped(cell)"
              :entry="entry"
              :cell="cell.key"
              :row="block.first + at"
              :column="0"
              @command="emit('command', $event, cell.key)"
              @move="(rows, columns) => move(block.first + at, 0, rows, columns)"
              @paste="paste(block.first + at, 0, $event)"
            />
            <CellSays :entry="entry" :cells="[cell.key]" />
          </div>
        </div>
      </div>

      <div
        v-else-if="block.kind === 'matrix'"
        :class="['matrix', { wide: block.axis.bands.length > 3 }]"
        :style="{ '--columns': block.axis.bands.length }"
      >
        <div class="heads" aria-hidden="true">
          <span /><span v-for="band in block.axis.bands" :key="band.code">{{ say(band.name) }}</span>
        </div>
        <div
          v-for="stretch in stretchesOf(block.rows, block.first)"
          :key="stretch[0]!.at"
          class="stretch"
          :style="{ '--lines': stretch.length }"
        >
          <div v-for="{ line, at } in stretch" :key="line.item.code" class="line">
            <span class="name">{{ say(line.item.name) }}</span>
            <div class="cells">
              <div v-for="(cell, column) in line.cells" :key="cell.key" class="banded">
                <span class="band" aria-hidden="true">{{ say(cell.bands[0]!.name) }}</span>
                <CellInput
                  :entry="entry"
                  :cell="cell.key"
                  :row="block.first + at"
                  :column="column"
                  @command="emit('command', $event, cell.key)"
                  @move="(rows, columns) => move(block.first + at, column, rows, columns)"
                  @paste="paste(block.first + at, column, $event)"
                />
              </div>
            </div>
            <CellSays :entry="entry" :cells="line.cells.map(cell => cell.key)" />
          </div>
        </div>
      </div>

      <div
        v-else-if="block.first < made"
        class="grid"
        :style="{ '--columns': block.columnAxis.bands.length }"
      >
        <h2>
          {{ say(block.item.name) }}<small>{{ say(block.item.definition) }}</small>
        </h2>
        <div class="heads" aria-hidden="true">
          <span>{{ say(block.rowAxis.name) }}</span><span
            v-for="band in block.columnAxis.bands"
            :key="band.code"
            >{{ say(band.name) }}</span
          >
        </div>
        <div v-for="(cells, at) in block.rows" :key="at" class="line">
          <span class="name">{{ say(block.rowAxis.bands[at]!.name) }}</span>
          <div class="cells">
            <CellInput
              v-for="(cell, column) in cells"
              :key="cell.key"
              :entry="entry"
              :cell="cell.key"
              :row="block.first + at"
              :column="column"
              @command="emit('command', $event, cell.key)"
              @move="(rows, columns) => move(block.first + at, column, rows, columns)"
              @paste="paste(block.first + at, column, $event)"
            />
          </div>
          <CellSays :entry="entry" :cells="cells.map(cell => cell.key)" />
        </div>
      </div>
    </template>
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
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 4px 14px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--line);
  /* What a key changes in a line is laid out and painted in it: an eighth of the time of a key on a slow phone. */
  contain: layout paint style;
}
/* Hundreds of lines: a stretch out of sight is laid out when it comes into it, and moves as one while one types above it. */
.stretch {
  content-visibility: auto;
  contain-intrinsic-size: auto calc(var(--lines) * 62px);
}
.line:focus-within {
  background: var(--amber-0);
}
.name {
  font-size: 15px;
  overflow-wrap: anywhere;
}
.name small,
h2 small {
  display: block;
  font-size: 13px;
  font-weight: 400;
  color: var(--ink-5);
}
.cells {
  display: grid;
  grid-template-columns: repeat(var(--columns), 92px);
  gap: 8px;
}
.heads {
  display: grid;
  grid-template-columns: minmax(0, 1fr) repeat(var(--columns), 92px);
  gap: 8px;
  padding: 8px 16px 6px;
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-7);
  background: var(--sand);
  border-bottom: 1px solid var(--line);
}
.heads span + span {
  text-align: right;
}
.grid h2 {
  padding: 14px 16px 8px;
  font: 600 15px/1.3 var(--body);
}
.band {
  display: none;
  font-size: 13px;
  color: var(--ink-5);
}
@container (width < 760px) {
  .wide .heads {
    display: none;
  }
  .wide .line {
    grid-template-columns: 1fr;
  }
  .wide .name {
    font-weight: 600;
  }
  .wide .cells {
    grid-template-columns: repeat(3, 1fr);
    gap: 8px;
  }
  .wide .band {
    display: block;
    text-align: right;
  }
  .wide .banded {
    display: flex;
    flex-direction: column;
    gap: 2px;
  }
}
@container (width < 600px) {
  .cells {
    grid-template-columns: repeat(var(--columns), 84px);
  }
  .heads {
    grid-template-columns: minmax(0, 1fr) repeat(var(--columns), 84px);
  }
}
</style>
