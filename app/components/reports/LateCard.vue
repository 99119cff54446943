<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import { printDay } from '#core/calendar/day'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { ReportView } from '~/reports/useReportView'

/** A closed report: what arrived after the closing, and letting the facility in until a day. */
const { file, report } = defineProps<{ file: ReportFile; report: ReportView }>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t } = words
/** How long a facility is let in, unless the officer says otherwise. */
const USUAL_DAYS = 2
const day = ref(printDay(words.today() + USUAL_DAYS))
const why = ref('')
const opened = ref(file.late.length > 0)
const { busy, problem, run } = useAct()
const params = { round: file.round.id, unit: file.unit.code }
/** Open again to the facility, or closed: since when. */
const isOpen = computed(() => clockNow() < Date.parse(file.round.closesAt))
const title = computed(() =>
  file.late.length
    ? t('late.count', { count: file.late.length }, file.late.length)
    : t(isOpen.value ? 'late.open' : 'late.closed', { day: words.day(file.round.closesAt) }),
)
const said = computed(() => why.value.trim().length > 1)

async function act(work: () => Promise<unknown>) {
  if (await run(work)) emit('changed')
}
const letIn = () =>
  act(() =>
    callApi('POST /api/reports/:round/:unit/let-in', { params, body: { day: day.value, why: why.value } }),
  )
const leaveOut = () =>
  act(() => callApi('POST /api/reports/:round/:unit/leave-out', { params, body: { why: why.value } }))
const { contentText } = useCellText()
const lateText = ({ kind, cell, content }: ReportFile['late'][number]) =>
  content === null || cell === null
    ? t(`late.${kind}`)
    : contentText(report.cellByKey.get(cell)?.item, content)
</script>

<template>
  <section class="card stack late" :aria-label="t('late.title')">
    <div class="spread">
      <h2>{{ title }}</h2>
      <Button
        v-if="!opened"
        size="small"
        severity="secondary"
        outlined
        :label="t('late.letIn')"
        @click="opened = true"
      />
    </div>
    <p v-if="file.letIn">
      {{
        t('late.wasLetIn', { day: words.dueDay(file.letIn.until), by: file.letIn.by, why: file.letIn.why })
      }}
    </p>
    <DataTable
      v-if="file.late.length"
      :value="file.late"
      data-key="id"
      size="small"
      paginator
      :rows="8"
      :always-show-paginator="false"
      :table-props="{ 'aria-label': t('late.title') }"
    >
      <Column :header="t('late.what')"
        ><template #body="{ data }">{{
          data.cell ? report.nameOf(data.cell) : t(`late.${data.kind}`)
        }}</template></Column
      >
      <Column :header="t('late.value')" class="number"
        ><template #body="{ data }">{{ data.cell ? lateText(data) : '–' }}</template></Column
      >
      <Column :header="t('late.by')"
        ><template #body="{ data }">{{ data.by }}, {{ data.device }}</template></Column
      >
      <Column :header="t('late.madeAt')"
        ><template #body="{ data }">{{ words.moment(data.madeAt) }}</template></Column
      >
      <Column :header="t('late.arrivedAt')"
        ><template #body="{ data }"
          >{{ words.moment(data.arrivedAt)
          }}<span v-if="data.problem" class="problem">{{
            words.problem({ code: data.problem, message: data.problem })
          }}</span></template
        ></Column
      >
    </DataTable>
    <form v-if="opened" class="stack" @submit.prevent="letIn">
      <p class="small">{{ t(file.late.length ? 'late.hint' : 'late.hintEmpty') }}</p>
      <div class="row fields">
        <div class="field">
          <label for="late-day">{{ t('late.until') }}</label><DayField
            v-model="day"
            input-id="late-day"
            required
          />
        </div>
        <div class="field grow">
          <label for="late-why">{{ t('late.why') }}</label><InputText
            id="late-why"
            v-model="why"
            :maxlength="LONGEST_SENTENCE"
            fluid
          />
        </div>
      </div>
      <ProblemNote :problem="problem" />
      <div class="row">
        <Button type="submit" :label="t('late.letIn')" :disabled="!said" :loading="busy" />
        <Button
          v-if="file.late.length"
          severity="secondary"
          outlined
          :label="t('late.leaveOut')"
          :disabled="!said"
          :loading="busy"
          @click="leaveOut"
        />
      </div>
    </form>
  </section>
</template>

<style scoped>
.late {
  margin-bottom: 12px;
  border-color: var(--amber-5);
}
.fields {
  align-items: end;
}
.grow {
  flex: 1;
  min-width: 220px;
}
.problem {
  display: block;
  color: var(--brick-7);
  font-size: 13px;
}
</style>
