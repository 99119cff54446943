<script setup lang="ts">
import { isTypedNumber } from '#core/report/asked'
import { wordsIn, type Cell } from '#core/report/edition'
import { STRETCH, type NumberedBlock } from '~/reports/numberedBlocks'
import type { ShownReport } from '~/reports/useReportEntry'

/** A list of a section, or a grid by breakdown. What is doubtful stands under its line. */
const { entry, block, made } = defineProps<{
  entry: ShownReport
  block: NumberedBlock
  /** So many of its lines are made by now. */
  made: number
}>()
const emit = defineEmits<{
  command: [letter: string, cell: string]
  move: [row: number, column: number]
  paste: [row: number, column: number, text: string]
}>()
const { locale } = useI18n()
const say = (words: Record<string, string>) => wordsIn(words, locale.value)
/** What the fields say is for the section, which has the other blocks, too. */
const passed = {
  command: (letter: string, cell: string) => emit('command', letter, cell),
  move: (row: number, column: number) => emit('move', row, column),
  paste: (row: number, column: number, text: string) => emit('paste', row, column, text),
}
const isTyped = ({ item }: Cell) => isTypedNumber(item.kind)
const madeOf = <T,>(stretches: readonly T[]): T[] =>
  stretches.slice(0, Math.ceil(Math.max(made, 0) / STRETCH))
</script>

<template>
  <div v-if="block.kind === 'list'" class="list">
    <!-- By memo: a step more does not draw the stretches anew that are there, a fifth of the time of 500 lines. -->
    <div
      v-for="stretch in madeOf(block.stretches)"
      :key="stretch[0]!.at"
      v-memo="[stretch, entry, locale]"
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
          v-on="passed"
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
      v-for="stretch in madeOf(block.stretches)"
      :key="stretch[0]!.at"
      v-memo="[stretch, entry, locale]"
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
              v-on="passed"
            />
          </div>
        </div>
        <CellSays :entry="entry" :cells="line.cells.map(cell => cell.key)" />
      </div>
    </div>
  </div>

  <div v-else-if="made > 0" class="grid" :style="{ '--columns': block.columnAxis.bands.length }">
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
          v-on="passed"
        />
      </div>
      <CellSays :entry="entry" :cells="cells.map(cell => cell.key)" />
    </div>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 4px 14px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--line);
  /* What a key changes in a line is laid out in it: an eighth of the time of a key on a slow phone. */
  contain: layout style;
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
