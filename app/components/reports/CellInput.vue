<script setup lang="ts">
import { numberOf, type CellContent } from '#core/report/cell'
import { vShownText } from '~/common/shownText'
import type { ShownReport } from '~/reports/useReportEntry'

/**
 * One number cell. Letters are commands, because no number needs them; arrows, Tab and Enter move as in a
 * spreadsheet; every value that is a number is kept at each key.
 */
const {
  entry: report,
  cell,
  row,
  column,
} = defineProps<{
  entry: ShownReport
  cell: string
  row: number
  column: number
}>()
const emit = defineEmits<{
  command: [letter: string, cell: string]
  /** To the field of another row and column. */
  move: [row: number, column: number]
  paste: [row: number, column: number, text: string]
}>()
const entry = fillingOf(report)
const words = useWords()
const { t } = words
const COMMANDS = 'hcnxzr'

const shownText = (content: CellContent) => {
  const number = numberOf(content)
  return number === null ? '' : words.typed(number)
}
const takesDecimals = computed(() => report.cellByKey.get(cell)?.item.kind === 'decimal')
let before: CellContent = report.contentOf(cell)
const text = ref(shownText(report.contentOf(cell)))
/** The field holds a text that is no number: it stays until another content is put here. */
const isUnread = ref(false)
watch(
  () => report.contentOf(cell),
  content => {
    if (isUnread.value && entry?.problems[cell]) return
    isUnread.value = false
    text.value = shownText(content)
  },
)

// An answer that would have cleared others was not given after all.
watch(
  () => entry?.pending.value?.key,
  (now, before) => {
    if (before === cell && now === undefined && !isUnread.value) text.value = shownText(content.value)
  },
)

const content = computed(() => report.contentOf(cell))
const doubts = computed(() => report.doubtsAt(cell))
const problem = computed(() => entry?.problems[cell])
const worst = computed(() => {
  if (problem.value || entry?.conflicts[cell] || doubts.value.some(({ strength }) => strength === 'mustFix'))
    return 'mustFix'
  return doubts.value[0]?.strength ?? null
})
const placeholder = computed(() =>
  content.value.kind === 'notKnown'
    ? t('cell.notKnownShort')
    : content.value.kind === 'notOffered'
      ? t('cell.notOfferedShort')
      : '·',
)
const range = computed(() => report.rangeOf(cell))
const last = computed(() => report.lastValue(cell))
const context = computed(() => {
  const usual = range.value
    ? t('cell.usual', { low: words.number(range.value.low), high: words.number(range.value.high) })
    : null
  return [typeof last.value === 'number' ? words.number(last.value) : null, usual]
    .filter(part => part !== null)
    .join(' · ')
})
const label = computed(() => {
  const extra =
    content.value.kind === 'notKnown'
      ? t('cell.notKnown')
      : content.value.kind === 'notOffered'
        ? t('cell.notOffered')
        : ''
  return [report.nameOf(cell), extra].filter(Boolean).join(', ')
})

function onInput(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  void entry?.type(cell, text.value, before)
  isUnread.value = Boolean(entry?.problems[cell])
}

function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const field = event.target as HTMLInputElement
  const letter = event.key.toLowerCase()
  const moves: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    Enter: [event.shiftKey ? -1 : 1, 0],
    ArrowUp: [-1, 0],
  }
  if (event.key === 'ArrowLeft' && field.selectionStart === 0) moves.ArrowLeft = [0, -1]
  if (event.key === 'ArrowRight' && field.selectionEnd === field.value.length) moves.ArrowRight = [0, 1]
  const move = moves[event.key]
  if (move) emit('move', row + move[0], column + move[1])
  else if (letter.length === 1 && COMMANDS.includes(letter)) emit('command', letter, cell)
  else return
  event.preventDefault()
}

function onPaste(event: ClipboardEvent) {
  const pasted = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(pasted.trim())) return
  event.preventDefault()
  emit('paste', row, column, pasted)
}

function onFocus(event: FocusEvent) {
  report.enter(cell)
  if (!isUnread.value) before = report.contentOf(cell)
  ;(event.target as HTMLInputElement).select()
}
</script>

<template>
  <div class="cell">
    <!-- A form for each field: docs/decisions/0066. -->
    <form :class="['box', worst, { readonly: !entry?.editable.value }]" @submit.prevent>
      <input
        v-shown-text="text"
        :data-cell="cell"
        :data-row="row"
        :data-column="column"
        type="text"
        :inputmode="takesDecimals ? 'decimal' : 'numeric'"
        autocomplete="off"
        enterkeyhint="next"
        :class="{ given: content.kind !== 'value' && content.kind !== 'blank' }"
        :placeholder="placeholder"
        :readonly="!entry?.editable.value"
        :aria-label="label"
        :aria-invalid="worst === 'mustFix'"
        :aria-describedby="doubts.length || problem ? `said-${cell}` : context ? `usual-${cell}` : undefined"
        @input="onInput"
        @keydown="onKey"
        @paste="onPaste"
        @focus="onFocus"
        @blur="entry?.outbox.flush()"
      />
    </form>
    <span v-if="context" :id="`usual-${cell}`" class="context">{{ context }}</span>
    <i
      v-if="report.file.comments[cell]"
      class="pi pi-comment commented"
      :title="t('cell.commented')"
      aria-hidden="true"
    />
  </div>
</template>

<style scoped>
.cell {
  position: relative;
}
/* The frame shows the state, not the field: to style a field anew costs four times as much, at each key. */
.box {
  margin-left: auto;
  width: 84px;
  height: 40px;
  color: var(--ink-9);
  background: var(--card);
  border: 1px solid color-mix(in srgb, var(--ink-5) 55%, var(--card));
  border-radius: 8px;
}
/* By itself: what is typed in it does not lay the page out anew, of which it would be a flexible part. */
input {
  display: block;
  contain: strict;
  width: 100%;
  height: 100%;
  padding: 0 10px;
  text-align: right;
  font: 500 17px var(--body);
  font-variant-numeric: tabular-nums;
  scroll-margin: 90px 0 170px; /* clear of the head and of the fixed foot */
  color: inherit;
  background: none;
  border: 0;
  border-radius: 8px;
}
input::placeholder {
  color: var(--ink-5);
  opacity: 1;
}
input.given::placeholder {
  font-size: 13px;
}
input:focus {
  outline: none;
}
.box:focus-within {
  outline: 2px solid var(--plum-5);
  background: var(--amber-0);
}
.box.readonly {
  background: var(--sand);
  border-color: var(--line);
}
.box.mustFix {
  border-color: var(--brick-7);
  background: var(--brick-0);
}
.box.explain {
  border-color: var(--amber-5);
  background: var(--amber-0);
}
.box.note {
  border-color: var(--dusk-7);
}
.context {
  display: block;
  margin-top: 2px;
  text-align: right;
  font-size: 12px;
  line-height: 14px;
  color: var(--ink-5);
  white-space: nowrap;
}
.commented {
  position: absolute;
  top: 4px;
  left: -18px;
  font-size: 12px;
  color: var(--dusk-7);
}
@container (width < 600px) {
  .box {
    height: 44px;
    width: 78px;
  }
}
</style>
