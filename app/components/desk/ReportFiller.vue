<script setup lang="ts">
import { isReceived } from '#core/report/state'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { ReportFile } from '#core/contract/reports'
import { focusWhenMade } from '~/common/useGradually'
import { useRegisterCounts } from '~/reports/useRegisterCounts'

/** Filling and sending are two acts: here a report is filled, the page after it sends. */
const { file } = defineProps<{ file: ReportFile }>()
const words = useWords()
const { t } = words
const router = useRouter()
const route = useRoute()
const own = useOwnCases(file)
const entry = useReportEntry(file, { counts: useOwnCounts(file, own).figures })
onMounted(async () => {
  await entry.restorePending()
  // Who comes to correct a value is in its cell.
  const cell = String(route.query.cell ?? '')
  if (entry.cellByKey.has(cell)) {
    entry.enter(cell)
    focusWhenMade(`input[data-cell="${CSS.escape(cell)}"]`)
  }
})
onBeforeUnmount(() => void entry.outbox.flush())

const sections = file.edition.sections
const at = computed(() =>
  Math.max(
    0,
    sections.findIndex(({ code }) => code === route.query.section),
  ),
)
const section = computed(() => sections[at.value]!)
const keysHere = computed(() =>
  entry.cells.filter(({ item }) => section.value.items.includes(item)).map(({ key }) => key),
)
/** Names of what the answer would clear. */
const lost = computed(() => entry.pending.value?.lost.map(entry.nameOf) ?? null)
const show = ref<'history' | 'comment' | 'notKnown' | null>(null)
const panelOpen = ref(false)
const wide = ref(window.matchMedia('(width >= 1000px)').matches)
const undo = ref<string[]>([])
const vault = useVault()
const may = computed(() => vault.device!.settings.may)
const isSent = computed(() => isReceived(entry.state.value))
const asksWhy = computed(() => isSent.value && may.value.changeSent && !entry.isClosed.value)
/** The card of this device may not let it begin reports, or change sent ones. */
const mayNot = computed(
  () =>
    (isSent.value && !may.value.changeSent) || (entry.state.value === 'awaited' && !may.value.openReports),
)
const questions = computed(() => file.discrepancies.filter(({ state }) => state === 'asked'))

/** What the register says of cells of this section. */
const { differing: registerSays } = useRegisterCounts(file, entry.contentOf, own)
const countsHere = computed(() =>
  mayNot.value || entry.isClosed.value
    ? []
    : registerSays.value.filter(({ count }) => count.cells.some(cell => keysHere.value.includes(cell))),
)
async function useCount(cell: string, count: number) {
  await entry.put(cell, { kind: 'value', value: count })
  void entry.outbox.flush()
}

async function command(letter: string, cell: string) {
  entry.active.value = cell
  if (letter === 'r') {
    const own = countsHere.value.find(({ count }) => count.cells.length === 1 && count.cells[0] === cell)
    if (own) await useCount(cell, own.registered)
  }
  if (letter === 'z') undo.value = await entry.zeros(keysHere.value)
  if (letter === 'x') {
    await entry.put(cell, { kind: 'notOffered' })
    void entry.outbox.flush()
  }
  if (letter === 'h' || letter === 'c' || letter === 'n') {
    show.value = letter === 'h' ? 'history' : letter === 'c' ? 'comment' : 'notKnown'
    panelOpen.value = true
  }
}
const onActive = (letter: string) => {
  if (entry.active.value) void command(letter, entry.active.value)
}

async function takeBack() {
  await entry.blankAgain(undo.value)
  undo.value = []
}

function panelDone() {
  show.value = null
  panelOpen.value = false
  document.querySelector<HTMLElement>(`input[data-cell="${entry.active.value}"]`)?.focus()
}

async function go(to: number) {
  // Going on never waits for a network: what was typed is kept on this device already.
  void entry.outbox.flush()
  undo.value = []
  if (to >= sections.length) {
    await router.push(reportLink('send', file.round.id, file.unit.code))
    return
  }
  await router.push({ query: { ...route.query, section: sections[to]!.code, cell: undefined } })
  window.scrollTo({ top: 0 })
  await nextTick()
  document.querySelector<HTMLElement>('input[data-row="0"]')?.focus()
}

useKeys([
  { key: 'H', says: 'keys.history' },
  { key: 'C', says: 'keys.comment' },
  { key: 'N', says: 'keys.notKnown' },
  { key: 'X', says: 'keys.notOffered' },
  { key: 'Z', says: 'keys.zeros' },
  { key: 'R', says: 'keys.register' },
  { key: '↑ ↓ Tab Enter', says: 'keys.cells' },
])
</script>

<template>
  <div>
    <DeskHead :title="`${words.say(file.round.name)} · ${words.period(file.round.period)}`" back="/desk">{{
      t('fill.section', { at: at + 1, of: sections.length, name: words.say(section.name) })
    }}</DeskHead>
    <main>
      <FillProgress :entry="entry" />
      <div v-if="file.sentBackWhy" class="banner">
        <strong>{{ t('fill.sentBack') }}</strong> {{ file.sentBackWhy }}
      </div>
      <div v-for="question in questions" :key="question.discrepancy" class="banner">
        {{ t('fill.asked') }}
        <NuxtLink :to="`/desk/questions/${question.discrepancy}`">{{ t('act.answer') }}</NuxtLink>
      </div>
      <ClosedNote v-if="entry.isClosed.value" :entry="entry" />
      <div v-else-if="entry.sendWaits.value" class="banner spread" role="status">
        <span>{{ t('send.waits') }}</span><Button
          size="small"
          severity="secondary"
          outlined
          :label="t('send.takeBack')"
          @click="entry.takeSendBack()"
        />
      </div>
      <div v-else-if="mayNot" class="banner">{{ t('fill.mayNot') }}</div>
      <div v-else-if="asksWhy" class="banner why">
        <label for="why-change">{{
          t('fill.whyChange', { state: t(`state.${entry.state.value}`) })
        }}</label><InputText
          id="why-change"
          v-model="entry.why.value"
          :maxlength="LONGEST_SENTENCE"
          fluid
          :placeholder="t('fill.whyHint')"
        />
      </div>
      <div class="split">
        <div class="paper">
          <nav class="sections" :aria-label="t('report.sections')">
            <button
              v-for="(one, place) in sections"
              :key="one.code"
              type="button"
              :aria-current="place === at ? 'step' : undefined"
              @click="go(place)"
            >
              {{ place + 1 }}<span>&nbsp; {{ words.say(one.name) }}</span>
            </button>
          </nav>
          <p class="quiet small hint">{{ t('report.underEach') }}</p>
          <RegisterSays :counts="countsHere" :editable="entry.editable.value" @use="useCount" />
          <ReportSection :key="section.code" :entry="entry" :section="section" near-only @command="command" />
          <ClearsAsk
            :lost="lost"
            :can-bring-back="entry.cleared.value !== null"
            @confirm="entry.confirmClearing()"
            @leave="entry.leaveAnswer()"
            @bring-back="entry.bringBack()"
          />
          <div class="row tools">
            <Button severity="secondary" outlined :label="t('fill.zeros')" @click="onActive('z')" />
            <Button
              severity="secondary"
              outlined
              :label="t('fill.notKnown')"
              :disabled="!entry.active.value"
              @click="onActive('n')"
            />
            <Button
              severity="secondary"
              outlined
              :label="t('fill.notOffered')"
              :disabled="!entry.active.value"
              @click="onActive('x')"
            />
            <Button
              severity="secondary"
              text
              :label="t('fill.about')"
              :disabled="!entry.active.value"
              @click="onActive('h')"
            />
            <Button
              v-if="undo.length"
              :label="t('fill.undo', { count: undo.length }, undo.length)"
              icon="pi pi-undo"
              @click="takeBack"
            />
          </div>
        </div>
        <aside v-if="wide" class="side">
          <CellPanel
            v-if="entry.active.value"
            :entry="entry"
            :cell="entry.active.value"
            :show="show"
            @done="panelDone"
          />
        </aside>
      </div>
    </main>
    <Drawer
      v-if="!wide && entry.active.value"
      v-model:visible="panelOpen"
      position="bottom"
      style="height: auto; max-height: 85vh"
      :pt="{ root: { 'aria-label': t('cell.about') } }"
      :header="t('cell.about')"
      ><CellPanel :entry="entry" :cell="entry.active.value" :show="show" @done="panelDone"
    /></Drawer>
    <footer class="foot">
      <SaveLine :entry="entry" />
      <div class="row">
        <Button
          v-if="at > 0"
          severity="secondary"
          outlined
          icon="pi pi-arrow-left"
          :aria-label="t('fill.before')"
          @click="go(at - 1)"
        />
        <Button
          v-if="!(isSent || entry.isClosed.value) || at < sections.length - 1"
          :label="at < sections.length - 1 ? t('fill.next') : t('fill.toSending')"
          @click="go(at + 1)"
        />
      </div>
    </footer>
  </div>
</template>

<style scoped>
.banner {
  padding: 10px 16px;
  background: var(--amber-1);
  border-bottom: 1px solid var(--line);
}
.why {
  display: grid;
  gap: 6px;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  max-width: 1240px;
  margin: 0 auto;
  padding-bottom: 74px;
}
.paper {
  background: var(--card);
}
.sections {
  display: flex;
  gap: 6px;
  padding: 10px 16px;
  overflow-x: auto;
}
.sections button {
  flex: none;
  min-width: 44px;
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--card);
  font: 600 14px var(--body);
  color: var(--ink-7);
  cursor: pointer;
}
.sections button[aria-current] {
  background: var(--plum-7);
  color: var(--card);
  border-color: var(--plum-7);
}
.hint {
  padding: 0 16px 8px;
}
.tools {
  padding: 14px 16px;
}
.tools :deep(button) {
  min-height: 44px;
}
.foot {
  position: fixed;
  inset: auto 0 58px;
  z-index: 5;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  padding: 10px 16px;
  background: var(--card);
  border-top: 1px solid var(--line);
}
.foot :deep(button) {
  min-height: 44px;
}
.foot .row {
  flex-wrap: nowrap;
}
.foot :deep(.p-button-label) {
  white-space: nowrap;
}
@media (width < 600px) {
  .sections span {
    display: none;
  }
  .sections {
    gap: 5px;
    padding: 8px 12px;
  }
}
@media (width >= 1000px) {
  .split {
    grid-template-columns: minmax(0, 1fr) 340px;
    gap: 18px;
    padding: 14px 18px 80px;
    align-items: start;
  }
  .paper {
    border: 1px solid var(--line);
    border-radius: 12px;
    overflow: hidden;
  }
  .side {
    position: sticky;
    top: 14px;
    padding: 14px 16px;
    background: var(--card);
    border: 1px solid var(--line);
    border-radius: 12px;
  }
}
</style>
