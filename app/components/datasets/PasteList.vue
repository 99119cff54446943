<script setup lang="ts">
import { guessItem } from '#core/define/guess-kind'
import { readPastedList, type PastedLine } from '#core/define/paste-list'
import { ITEM_KINDS, type ItemKind } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/**
 * Lines copied from a spreadsheet or a document become sections and items, with a kind guessed for each, in
 * one screen to decide.
 */
const { work } = defineProps<{ work: DraftWork }>()
const visible = defineModel<boolean>('visible', { required: true })
const words = useWords()
const { t, locale } = words
const text = ref('')
type Way = ItemKind | 'section' | 'leave'
const ways = ref<Record<number, Way>>({})
type Line = PastedLine & { guess: ReturnType<typeof guessItem> }
const lines = computed<Line[]>(() =>
  readPastedList(text.value, work.items.value).map(line => ({
    ...line,
    guess: guessItem(line.label, locale.value),
  })),
)
const usual = ({ heading, match, guess }: Line): Way =>
  heading ? 'section' : match?.sure ? 'leave' : guess.kind
const wayOf = (line: Line) => ways.value[line.line] ?? usual(line)
const isItem = (way: Way): way is ItemKind => way !== 'section' && way !== 'leave'
const items = computed(() => lines.value.filter(line => isItem(wayOf(line))).length)
const sections = computed(() => lines.value.filter(line => wayOf(line) === 'section').length)
/** A computed item needs its expression: it is made afterwards. */
const WAYS = ITEM_KINDS.filter(kind => kind !== 'computed')

function add() {
  let section = work.draft.value!.sections.at(-1)
  for (const line of lines.value) {
    const way = wayOf(line)
    if (way === 'section') section = work.addSection(line.label)
    if (!isItem(way)) continue
    const item = work.addItem((section ??= work.addSection(t('draft.firstSection'))), line.guess.label, way)
    if (item.choices && line.guess.choices) item.choices = line.guess.choices
  }
  text.value = ''
  ways.value = {}
  visible.value = false
}
const shown = computed(() =>
  lines.value.map(one => ({
    line: one.line,
    name: one.guess.label,
    note: one.match
      ? t(one.match.sure ? 'draft.isThere' : 'draft.nearly', { name: words.say(one.match.item.name) })
      : '',
    way: wayOf(one),
  })),
)
</script>

<template>
  <PasteLines
    v-model="text"
    v-model:visible="visible"
    input-id="pasted"
    :title="t('draft.paste')"
    :hint="t('draft.pasteHint')"
    :head="t('draft.name')"
    :lines="shown"
    :options="[
      ...WAYS.map(way => ({ value: way as Way, label: t(`kind.${way}`) })),
      ...(['section', 'leave'] as const).map(way => ({ value: way as Way, label: t(`draft.way.${way}`) })),
    ]"
    :act="t('draft.addItems', { count: items }, items)"
    :can-add="items + sections > 0"
    @choose="(line, way) => (ways[line] = way)"
    @add="add"
  />
</template>
