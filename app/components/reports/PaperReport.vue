<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import type { Doubt } from '#core/rule/find-doubts'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import { focusWhenMade } from '~/common/useGradually'
import { usePaperReport } from '~/reports/usePaperReport'

/** A report that a facility filled on paper, entered at the office by keyboard, and saved in one act. */
const { file } = defineProps<{ file: ReportFile }>()
const emit = defineEmits<{ saved: []; changed: [] }>()
const words = useWords()
const { t } = words
const paper = usePaperReport(file)
const { entry, draft } = paper
const open = ref('')
const looking = ref(false)
const throwing = ref(false)
const lost = computed(() => entry.pending.value?.lost.map(entry.nameOf) ?? null)
const undo = ref<string[]>([])
const isChanged = computed(() => paper.problem.value?.code === 'paper-changed')

async function command(letter: string, cell: string, section: string[]) {
  if (letter === 'z') undo.value = await entry.zeros(section)
  if (letter === 'x') await entry.put(cell, { kind: 'notOffered' })
}
async function takeBack() {
  await entry.blankAgain(undo.value)
  undo.value = []
}
async function save() {
  looking.value = true
  if (paper.lacks.value.length) return
  if (await paper.save()) emit('saved')
}
function throwAway() {
  throwing.value = false
  paper.discard()
  emit('changed')
}

function goTo({ cells: [cell] }: Doubt) {
  open.value = file.edition.sections.find(({ items }) =>
    items.includes(entry.cellByKey.get(cell!)!.item),
  )!.code
  focusWhenMade(`input[data-cell="${CSS.escape(cell!)}"]`)
}
useKeys([
  { key: 'N', says: 'keys.notKnown' },
  { key: 'X', says: 'keys.notOffered' },
  { key: 'Z', says: 'keys.zeros' },
  { key: '↑ ↓ Tab Enter', says: 'keys.cells' },
])
</script>

<template>
  <div>
    <PageHead :title="t('paperReport.title', { unit: file.unit.name })">
      <StateTag :sign="file.sign" />
      <span class="quiet small">{{ words.say(file.round.name) }}, {{ words.period(file.round.period) }}</span>
      <template #acts>
        <Button
          v-if="paper.wasKept || entry.outbox.state.value === 'saved'"
          severity="secondary"
          text
          :label="t('paperReport.throwAway')"
          @click="throwing = true"
        />
      </template>
    </PageHead>
    <p class="quiet small">{{ t('paperReport.note') }}</p>
    <div class="fields head">
      <div class="field">
        <label for="paper-on">{{ t('paperEntry.on') }}</label>
        <DayField v-model="draft.paperOn" input-id="paper-on" />
        <p v-if="looking && paper.lacks.value.includes('day')" role="alert" class="wrong small">
          {{ t('paperEntry.dayMissing') }}
        </p>
      </div>
      <div class="field">
        <label for="paper-by">{{ t('paperReport.filledBy') }}</label>
        <InputText id="paper-by" v-model="draft.filledBy" :maxlength="100" fluid />
        <p v-if="looking && paper.lacks.value.includes('filledBy')" role="alert" class="wrong small">
          {{ t('paperReport.lack.filledBy') }}
        </p>
      </div>
      <div v-if="paper.wasReceived" class="field">
        <label for="paper-why">{{ t('paperReport.why') }}</label>
        <InputText id="paper-why" v-model="entry.why.value" :maxlength="LONGEST_SENTENCE" fluid />
        <p v-if="paper.lacks.value.includes('why')" class="small quiet">{{ t('paperReport.lack.why') }}</p>
      </div>
    </div>
    <ReportSheet v-model:open="open" :report="entry" @command="command">
      <div class="row tools">
        <Button
          v-if="undo.length"
          size="small"
          :label="t('fill.undo', { count: undo.length }, undo.length)"
          icon="pi pi-undo"
          @click="takeBack"
        />
        <ClearsAsk
          :lost="lost"
          :can-bring-back="entry.cleared.value !== null"
          @confirm="entry.confirmClearing()"
          @leave="entry.leaveAnswer()"
          @bring-back="entry.bringBack()"
        />
      </div>
    </ReportSheet>
    <div class="stack end">
      <ReportDoubts
        v-slot="{ doubt }"
        v-model="draft.explanations"
        :entry="entry"
        :doubts="paper.toSay.value"
      >
        <button type="button" class="textual" @click="goTo(doubt)">{{ t('paperReport.toValue') }}</button>
      </ReportDoubts>
      <p>
        {{ t('send.filled', { answered: entry.filled.value.answered, applies: entry.filled.value.applies }) }}
        <span class="quiet small">{{ t('paperReport.kept') }}</span>
      </p>
      <ProblemNote :problem="paper.problem.value" />
      <div v-if="looking && paper.lacks.value.length" role="alert" class="wrong">
        <p v-for="lack in paper.lacks.value" :key="lack">{{ t(`paperReport.lack.${lack}`) }}</p>
      </div>
      <div class="row">
        <Button
          :label="t(paper.wasReceived ? 'paperReport.saveChange' : 'paperReport.save')"
          icon="pi pi-check"
          :loading="paper.busy.value"
          @click="save"
        />
        <Button
          v-if="isChanged"
          severity="secondary"
          outlined
          :label="t('paperReport.lookAgain')"
          @click="emit('changed')"
        />
      </div>
    </div>
    <AskDialog
      v-model:visible="throwing"
      :title="t('paperReport.throwAway')"
      :act="t('paperReport.throwAway')"
      @go="throwAway"
      ><p>{{ t('paperReport.throwAwaySay') }}</p></AskDialog
    >
  </div>
</template>

<style scoped>
.head {
  margin: 8px 0 14px;
}
.tools:empty {
  display: none;
}
.tools {
  padding: 10px 16px;
}
.end {
  margin-top: 16px;
  max-width: 760px;
}
.wrong {
  color: var(--brick-7);
}
</style>
