<script setup lang="ts">
import type { ChangedSince, DistrictReport } from '#core/contract/district-reports'
import type { CellValue } from '#core/report/cell'
import type { Item } from '#core/report/edition'

/** What still blocks, who signed, and the signing itself. */
const { report } = defineProps<{ report: DistrictReport }>()
const emit = defineEmits<{ signed: []; show: [amendment: number | null] }>()
const words = useWords()
const { t } = words
const session = useSession()
const asking = ref(false)
const { busy, problem, run } = useAct()
const again = computed(() => report.signatures.length > 0)
const maySign = computed(
  () =>
    session.can('sign') &&
    !report.blocking.length &&
    report.figures.reporting.received > 0 &&
    (!again.value || report.changedSince.length > 0),
)

async function sign() {
  const { round, unit } = report.figures
  const done = await run(() =>
    callApi('POST /api/district-reports/:round/sign', {
      params: { round: round.id },
      body: { unit: unit.code, checksum: report.toSign },
    }),
  )
  if (done) asking.value = false
  // What changed meanwhile is shown at once: the next try signs that.
  if (done || problem.value?.code === 'figures-changed') emit('signed')
}
const items = computed(
  () =>
    new Map(
      report.figures.sections.flatMap(({ lines }) => lines.map(({ item, name }) => [item, name] as const)),
    ),
)
/** What a difference is about: the item of a cell, which its place names, or nothing more than the unit. */
function subjectOf(at: string): string {
  // The code of a unit may hold a slash: the cell is what stands behind the last.
  const cell = at.split('/').at(-1)!
  const name = at.startsWith('cells/') ? items.value.get(cell.split('.')[0]!) : undefined
  return name ? words.say(name) : ''
}
/** What was refused because it changed, one line a difference. */
const changedWhile = computed(() =>
  (problem.value?.code === 'figures-changed' ? problem.value.problems : []).map(({ at, values }) => ({
    what: [values?.unit, subjectOf(String(at ?? ''))].filter(Boolean).join(', '),
    shown: values?.shown ?? '',
    now: values?.now ?? '',
  })),
)
const newest = computed(() => report.signatures.at(-1)?.amendment ?? null)

const { valueText } = useCellText()
const shownValue = (item: Item | undefined, value: CellValue | null) =>
  value === null ? '–' : valueText(item, value)

/** Says one change in words. */
function say(change: ChangedSince): string {
  const standing = (state: string | null) =>
    state === null ? t('sign.noDoubt') : t(isOutcome(state) ? `outcome.${state}` : `discrepancy.${state}`)
  switch (change.kind) {
    case 'cell':
      return `${words.say(change.name)} ${shownValue(change.item, change.signed)} → ${shownValue(change.item, change.now)}`
    case 'report':
      return t(change.now === 'received' ? 'sign.reportCame' : 'sign.reportWent')
    case 'discrepancy':
      return t('sign.doubtNow', {
        title: words.say(change.title),
        signed: standing(change.signed),
        now: standing(change.now),
      })
    case 'completeness':
      return t('sign.completenessNow', {
        before: change.signed.received,
        expectedBefore: change.signed.expected,
        onTimeBefore: change.signed.onTime,
        after: change.now.received,
        expectedAfter: change.now.expected,
        onTimeAfter: change.now.onTime,
      })
  }
}
const isOutcome = (state: string) => ['corrected', 'explained', 'dismissed'].includes(state)
</script>

<template>
  <aside class="stack">
    <div class="card stack">
      <h2 class="state">{{ t(`districtReport.${report.state}`) }}</h2>
      <div v-for="signature in report.signatures" :key="signature.amendment" class="signature">
        <p>
          <strong>{{
            signature.amendment > 1
              ? t('sign.amendment', { number: signature.amendment - 1 })
              : t('sign.signed')
          }}</strong>
          {{ t('sign.by', { by: signature.by, at: words.moment(signature.signedAt) }) }}
        </p>
        <details class="small">
          <summary>{{ t('sign.proof') }}</summary>
          <p class="quiet checksum">SHA-256 {{ signature.checksum }}</p>
        </details>
        <Message v-if="!signature.isSound" severity="error" :closable="false">{{
          t('sign.notSound')
        }}</Message>
        <Button
          v-if="report.signatures.length > 1 && report.shows !== signature.amendment"
          size="small"
          text
          severity="secondary"
          :label="t('sign.show')"
          @click="emit('show', signature.amendment)"
        />
      </div>
      <div v-if="report.shows !== newest" class="stack">
        <Message severity="warn" :closable="false">{{ t('sign.showing', { number: report.shows }) }}</Message>
        <Button
          size="small"
          severity="secondary"
          outlined
          :label="t('sign.latest')"
          @click="emit('show', null)"
        />
      </div>
      <template v-if="report.blocking.length">
        <h3>{{ t('sign.blocks', { count: report.blocking.length }, report.blocking.length) }}</h3>
        <ul>
          <li v-for="one in report.blocking" :key="one.id">
            <StrengthTag :strength="one.strength" />{{ ' ' }}
            <NuxtLink :to="`/resolve/${one.id}`">{{
              words.pair(one.unit.name, words.say(one.title))
            }}</NuxtLink>
          </li>
        </ul>
      </template>
      <template v-if="report.figures.missing.length">
        <h3>
          {{ t('sign.missing', { count: report.figures.missing.length }, report.figures.missing.length) }}
        </h3>
        <p class="small">{{ report.figures.missing.map(({ name }) => name).join(', ') }}</p>
      </template>
      <Button
        v-if="session.can('sign')"
        :label="again ? t('sign.again') : t('sign.sign')"
        icon="pi pi-flag"
        :disabled="!maySign"
        @click="asking = true"
      />
      <p v-if="session.can('sign') && !maySign" class="small quiet">
        {{
          report.blocking.length
            ? t('sign.whyNot')
            : again
              ? t('sign.nothingChanged')
              : t('sign.nothingReceived')
        }}
      </p>
    </div>
    <div v-if="report.changedSince.length" class="card stack">
      <h2>{{ t('sign.changedSince', { count: report.changedSince.length }, report.changedSince.length) }}</h2>
      <ul>
        <li v-for="(one, at) in report.changedSince.slice(0, 30)" :key="at">
          {{ 'unit' in one ? words.pair(one.unit.name, say(one)) : say(one) }}
        </li>
      </ul>
      <p v-if="report.changedSince.length > 30" class="small quiet">
        {{ t('sign.more', { count: report.changedSince.length - 30 }) }}
      </p>
    </div>
    <AskDialog
      v-model:visible="asking"
      :title="again ? t('sign.again') : t('sign.sign')"
      :act="t('sign.do')"
      :busy="busy"
      :problem="problem"
      @go="sign"
    >
      <p>
        {{
          t('sign.ask', {
            district: report.figures.unit.name,
            period: words.period(report.figures.round.period),
          })
        }}
      </p>
      <ul v-if="changedWhile.length" class="changed">
        <li v-for="(one, at) in changedWhile" :key="at">{{ t('sign.changedWhile', one) }}</li>
      </ul>
      <p v-if="report.figures.missing.length" class="warn">
        {{ t('sign.askMissing', { count: report.figures.missing.length }, report.figures.missing.length) }}
      </p>
    </AskDialog>
  </aside>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.state::first-letter {
  text-transform: uppercase;
}
.checksum {
  overflow-wrap: anywhere;
}
.changed {
  margin-top: 10px;
  font-weight: 600;
}
.warn {
  margin: 10px 0;
  color: var(--amber-7);
}
</style>
