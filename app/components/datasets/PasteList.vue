<script setup lang="ts">
import { readPastedList, type PastedLine } from '#core/define/paste-list'
import type { DraftWork } from '~/define/useDraft'

/** Lines copied from a spreadsheet or a document become sections and items, in one screen to decide. */
const { work } = defineProps<{ work: DraftWork }>()
const visible = defineModel<boolean>('visible', { required: true })
const words = useWords()
const { t } = words
const text = ref('')
type Way = 'item' | 'section' | 'leave'
const ways = ref<Record<number, Way>>({})
const lines = computed(() => readPastedList(text.value, work.items.value))
const usual = (line: PastedLine): Way => (line.heading ? 'section' : line.match?.sure ? 'leave' : 'item')
const wayOf = (line: PastedLine) => ways.value[line.line] ?? usual(line)
const count = (way: Way) => lines.value.filter(line => wayOf(line) === way).length
const WAYS: Way[] = ['item', 'section', 'leave']

function add() {
  let section = work.draft.value!.sections.at(-1)
  for (const line of lines.value) {
    const way = wayOf(line)
    if (way === 'section') section = work.addSection(line.label)
    if (way === 'item') work.addItem((section ??= work.addSection(t('draft.firstSection'))), line.label)
  }
  text.value = ''
  ways.value = {}
  visible.value = false
}
const shown = computed(() =>
  lines.value.map(one => ({
    line: one.line,
    name: one.label,
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
    :options="WAYS.map(way => ({ value: way, label: t(`draft.way.${way}`) }))"
    :act="t('draft.addItems', { count: count('item') }, count('item'))"
    :can-add="count('item') + count('section') > 0"
    @choose="(line, way) => (ways[line] = way)"
    @add="add"
  />
</template>
