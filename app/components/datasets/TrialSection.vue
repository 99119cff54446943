<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import type { CellContent } from '#core/report/cell'
import type { Section } from '#core/report/edition'

/** One section of a trial: the facility's own entry, with an outbox that keeps nothing. */
const { file, section } = defineProps<{ file: ReportFile; section: Section }>()
const emit = defineEmits<{ typed: [cell: string, content: CellContent] }>()
const entry = useReportEntry(file, { outboxOf: useTrialOutbox })
watch(entry.contents, contents => {
  for (const [cell, content] of Object.entries(contents)) emit('typed', cell, content)
})
async function command(letter: string, cell: string) {
  if (letter === 'x') await entry.put(cell, { kind: 'notOffered' })
  if (letter === 'z')
    await entry.zeros(
      entry.cells
        .filter(({ item }) => section.items.some(({ code }) => code === item.code))
        .map(({ key }) => key),
    )
}
</script>

<template>
  <div>
    <ReportSection :entry="entry" :section="section" @command="command" />
    <ClearsAsk
      :lost="entry.pending.value?.lost.map(entry.nameOf) ?? null"
      :can-bring-back="entry.cleared.value !== null"
      @confirm="entry.confirmClearing()"
      @leave="entry.leaveAnswer()"
      @bring-back="entry.bringBack()"
    />
  </div>
</template>
