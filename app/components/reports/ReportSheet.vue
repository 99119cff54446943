<script setup lang="ts">
import type { ShownReport } from '~/reports/useReportEntry'

/** The sheet of a report on a wide screen: its sections, and beside it everything about one cell. */
const { report } = defineProps<{ report: ShownReport }>()
const emit = defineEmits<{
  /** A letter that the sheet does not know itself, at a cell, with the cells of the open section. */
  command: [letter: string, cell: string, section: string[]]
}>()
const words = useWords()
const { t } = words
const sections = report.file.edition.sections
/** The code of the open section; the first one until somebody says another. */
const open = defineModel<string>('open', { default: '' })
const section = computed(() => sections.find(({ code }) => code === open.value) ?? sections[0]!)
if (!report.active.value) report.enter(report.cells[0]!.key)
const show = ref<'history' | 'comment' | 'notKnown' | null>(null)
const keysOf = (code: string) => {
  const { items } = sections.find(one => one.code === code)!
  return report.cells.filter(({ item }) => items.includes(item)).map(({ key }) => key)
}
const doubtsIn = (code: string) => {
  const keys = new Set(keysOf(code))
  return report.doubts.value.filter(doubt => doubt.cells.some(cell => keys.has(cell))).length
}

const SHOWS: Readonly<Record<string, typeof show.value>> = { h: 'history', c: 'comment', n: 'notKnown' }
const isFilled = fillingOf(report) !== null
function command(letter: string, cell: string) {
  report.enter(cell)
  const shown = SHOWS[letter]
  if (shown && (letter !== 'n' || isFilled)) show.value = shown
  else emit('command', letter, cell, keysOf(section.value.code))
}
function done() {
  show.value = null
  if (isFilled) document.querySelector<HTMLElement>(`input[data-cell="${report.active.value}"]`)?.focus()
}
const shows = (key: string) => ({
  key,
  run: () => {
    show.value = SHOWS[key.toLowerCase()]!
  },
})
useKeys([
  { ...shows('H'), says: 'keys.history' },
  { ...shows('C'), says: 'keys.comment' },
])
</script>

<template>
  <div class="sheet">
    <div class="split">
      <div class="paper card">
        <Tabs :value="section.code" @update:value="open = String($event)">
          <TabList :aria-label="t('report.sections')">
            <Tab v-for="one in sections" :key="one.code" :value="one.code">
              {{ words.say(one.name) }}
              <WordTag v-if="doubtsIn(one.code)" tone="amber">{{ doubtsIn(one.code) }}</WordTag>
            </Tab>
          </TabList>
          <TabPanels>
            <p class="quiet small hint">{{ t('report.underEach') }}</p>
            <TabPanel :value="section.code">
              <ReportSection :key="section.code" :entry="report" :section="section" @command="command" />
            </TabPanel>
          </TabPanels>
        </Tabs>
        <slot />
      </div>
      <aside class="card side">
        <CellPanel
          v-if="report.active.value"
          :entry="report"
          :cell="report.active.value"
          :show="show"
          @done="done"
        />
      </aside>
    </div>
  </div>
</template>

<style scoped>
/* Asked by its own width: beside a board it has less than the window. */
.sheet {
  container-type: inline-size;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 16px;
  align-items: start;
}
.paper {
  padding: 0;
  overflow: hidden;
}
.paper :deep(.cell .box) {
  height: 32px;
}
.paper :deep(.cell input) {
  font-size: 15px;
}
.paper :deep(.line) {
  padding-block: 5px;
}
.side {
  position: sticky;
  top: 66px;
  max-height: calc(100vh - 82px);
  overflow: auto;
}
.paper :deep(.p-tabpanels) {
  padding: 0;
}
.paper :deep(.p-tab) {
  padding: 10px 14px;
}
.hint {
  padding: 8px 16px 0;
}
@container (width < 820px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
