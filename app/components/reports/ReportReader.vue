<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { CellContent } from '#core/report/cell'
import { isReceived } from '#core/report/state'
import { titlesOfDoubts } from '#core/rule/title'

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
const report = useReportView(file)
const why = ref('')
const sendingBack = ref(false)
const { problem, run } = useAct()
const at: [string, string] = [file.round.id, file.unit.code]
const params = { round: file.round.id, unit: file.unit.code }
const { contentText } = useCellText()
const shown = (cell: string, content: CellContent) => contentText(report.cellByKey.get(cell)?.item, content)
const titleOf = computed(() => titlesOfDoubts(file.edition))
const unsettled = computed(() => file.discrepancies.filter(({ state }) => state !== 'settled'))

async function act(work: () => Promise<unknown>) {
  if (await run(work)) emit('changed')
}
const accept = () => act(() => callApi('POST /api/reports/:round/:unit/accept', { params }))
const sendBack = () =>
  act(() => callApi('POST /api/reports/:round/:unit/send-back', { params, body: { why: why.value } }))
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
        <NuxtLink :to="facilityFileLink(file.unit.code)">{{ t('facility.title') }}</NuxtLink>
        <NuxtLink v-if="session.can('enterPaper')" :to="`${facilityLink(...at)}/paper`">{{
          t(isReceived(file.state) ? 'paperReport.correct' : 'paperReport.enter')
        }}</NuxtLink>
        <template v-if="session.can('resolve')">
          <Button
            v-if="isReceived(file.state)"
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
      v-if="session.can('resolve') && (report.isClosed.value || file.late.length || file.letIn)"
      :file="file"
      :report="report"
      @changed="emit('changed')"
    />
    <OthersIn :file="file" />
    <CopiedNote :report="report" />
    <p v-if="unsettled.length" class="doubts">
      <NuxtLink v-for="one in unsettled" :key="one.discrepancy" :to="`/resolve/${one.discrepancy}`"
        ><StrengthTag :strength="one.strength" /> {{ words.say(titleOf(one)) }} ·
        {{ t(`discrepancy.${one.state}`) }}</NuxtLink
      >
    </p>
    <ReportConflicts
      v-if="file.conflicts.length"
      :file="file"
      :name-of="report.nameOf"
      :shown="shown"
      @changed="emit('changed')"
    />
    <ReportSheet :report="report" />
    <ReportStoryCard v-if="file.state !== 'awaited'" :file="file" />
  </div>
</template>

<style scoped>
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
</style>
