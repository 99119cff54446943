<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { CellContent } from '#core/report/cell'
import { titleOfDoubt } from '#core/rule/title'

/**
 * A report with its sections at the left, the details of one cell at the right, and what the officer does
 * with it.
 */
const { file } = defineProps<{ file: ReportFile }>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
// The officer reads: values are changed by the facility, or when a discrepancy is settled.
const entry = useReportEntry({ ...file, state: 'accepted' }, useTrialOutbox)
const sections = file.edition.sections
const open = ref(sections[0]!.code)
const section = computed(() => sections.find(({ code }) => code === open.value)!)
entry.active.value = entry.cells[0]!.key
const show = ref<'history' | 'comment' | null>(null)
const why = ref('')
const sendingBack = ref(false)
const { problem, run } = useAct()
const params = { round: file.round.id, unit: file.unit.code }
const shown = (content: CellContent) =>
  content.kind === 'value' ? words.number(content.value) : t(`cell.${content.kind}`)
const unsettled = computed(() => file.discrepancies.filter(({ state }) => state !== 'settled'))
const doubtsIn = (code: string) => {
  const keys = new Set(
    entry.cells
      .filter(cell => sections.find(one => one.code === code)!.items.includes(cell.item))
      .map(cell => cell.key),
  )
  return entry.doubts.value.filter(doubt => doubt.cells.some(cell => keys.has(cell))).length
}

async function act(work: () => Promise<unknown>) {
  if (await run(work)) emit('changed')
}
const accept = () => act(() => callApi('POST /api/reports/:round/:unit/accept', { params }))
const sendBack = () =>
  act(() => callApi('POST /api/reports/:round/:unit/send-back', { params, body: { why: why.value } }))

function command(letter: string, cell: string) {
  entry.active.value = cell
  if (letter === 'h') show.value = 'history'
  if (letter === 'c') show.value = 'comment'
}
useKeys([
  {
    key: 'H',
    says: 'keys.history',
    run: () => {
      show.value = 'history'
    },
  },
  {
    key: 'C',
    says: 'keys.comment',
    run: () => {
      show.value = 'comment'
    },
  },
])
</script>

<template>
  <div>
    <PageHead :title="file.unit.name">
      <StateTag :sign="file.sign" />
      <span class="quiet small"
        >{{ words.say(file.round.name) }}, {{ words.period(file.round.period)
        }}<template v-if="file.receivedAt">
          · {{ t('report.receivedAt', { at: words.moment(file.receivedAt) }) }}</template
        ></span
      >
      <template #acts>
        <template v-if="session.can('resolve')">
          <Button
            v-if="file.state === 'sent' || file.state === 'accepted'"
            :label="t('act.sendBack')"
            severity="secondary"
            outlined
            @click="sendingBack = !sendingBack"
          />
          <Button v-if="file.state === 'sent'" :label="t('act.acceptReport')" @click="accept" />
        </template>
      </template>
    </PageHead>
    <ProblemNote :problem="problem" />
    <form v-if="sendingBack" class="card back" @submit.prevent="sendBack">
      <label for="why-back">{{ t('report.whyBack') }}</label>
      <InputText id="why-back" v-model="why" :maxlength="LONGEST_SENTENCE" fluid autofocus />
      <Button type="submit" :label="t('act.sendBack')" :disabled="why.trim().length < 2" />
    </form>
    <LateCard
      v-if="session.can('resolve') && (entry.isClosed.value || file.late.length || file.letIn)"
      :file="file"
      :name-of="entry.nameOf"
      @changed="emit('changed')"
    />
    <p v-if="unsettled.length" class="doubts">
      <NuxtLink v-for="one in unsettled" :key="one.discrepancy" :to="`/resolve/${one.discrepancy}`"
        ><StrengthTag :strength="one.strength" /> {{ words.say(titleOfDoubt(file.edition, one)) }} ·
        {{ t(`discrepancy.${one.state}`) }}</NuxtLink
      >
    </p>
    <Message v-for="one in file.conflicts" :key="one.cell + one.at" severity="warn" :closable="false">{{
      t('report.conflict', {
        name: entry.nameOf(one.cell),
        stands: shown(entry.contentOf(one.cell)),
        came: shown(one.content),
        by: [one.by, one.device].filter(Boolean).join(', '),
        at: words.moment(one.at),
      })
    }}</Message>
    <div class="split">
      <div class="paper card">
        <div class="tabs" role="tablist" :aria-label="t('report.sections')">
          <button
            v-for="one in sections"
            :id="`tab-${one.code}`"
            :key="one.code"
            role="tab"
            type="button"
            :aria-selected="one.code === open"
            aria-controls="section-shown"
            @click="open = one.code"
          >
            {{ words.say(one.name) }}
            <WordTag v-if="doubtsIn(one.code)" tone="amber">{{ doubtsIn(one.code) }}</WordTag>
          </button>
        </div>
        <p class="quiet small hint">{{ t('report.underEach') }}</p>
        <div id="section-shown" role="tabpanel" :aria-labelledby="`tab-${open}`">
          <ReportSection :key="open" :entry="entry" :section="section" @command="command" />
        </div>
      </div>
      <aside class="card side">
        <CellPanel
          v-if="entry.active.value"
          :entry="entry"
          :cell="entry.active.value"
          :show="show"
          @done="show = null"
        />
      </aside>
    </div>
  </div>
</template>

<style scoped>
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
.paper :deep(.cell input) {
  height: 32px;
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
.tabs {
  display: flex;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--line);
  background: var(--sand);
}
.tabs button {
  padding: 10px 14px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font: 600 14px var(--body);
  color: var(--ink-7);
  cursor: pointer;
}
.tabs button[aria-selected='true'] {
  border-bottom-color: var(--amber-5);
  background: var(--card);
  color: var(--ink-9);
}
.hint {
  padding: 8px 16px 0;
}
.back {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  margin-bottom: 12px;
}
.doubts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  margin-bottom: 12px;
}
@media (width < 900px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
