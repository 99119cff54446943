<script setup lang="ts">
import type { FilePart, ReportFileView } from '#core/contract/report-files'
import { LONGEST_SENTENCE } from '#core/contract/wire'

/** A file of reports: what it would change and what was refused; then how far it is, and taking it back. */
const { file } = defineProps<{ file: ReportFileView }>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t } = words
const { busy, problem, run } = useAct()
const params = computed(() => ({ id: file.line.id }))
const counts = computed(() => file.line.counts)
const state = computed(() => file.line.state)
const why = ref('')
const asking = ref(false)
async function act(work: () => Promise<unknown>) {
  asking.value = false
  if (await run(work)) emit('changed')
}
const apply = () =>
  act(() => callApi('POST /api/report-files/:id/apply', { params: params.value, body: { why: why.value } }))
const undo = () => act(() => callApi('POST /api/report-files/:id/undo', { params: params.value }))
const stop = () => act(() => callApi('POST /api/report-files/:id/stop', { params: params.value }))
const handled = computed(() =>
  state.value === 'undoing'
    ? counts.value.undone + counts.value.kept
    : counts.value.done + counts.value.refused,
)
const toHandle = computed(() =>
  state.value === 'undoing'
    ? counts.value.done + counts.value.undone + counts.value.kept
    : counts.value.reports,
)
const notes = computed(() => {
  const { same, passedOver, hidden, formulas } = file.notes
  return [
    same ? t('files.same', { count: same }, same) : '',
    formulas ? t('files.formulas', { count: formulas }, formulas) : '',
    hidden.length ? t('files.hidden', { names: hidden.join(', ') }) : '',
    passedOver.length ? t('files.passedOver', { names: passedOver.join(', ') }) : '',
  ].filter(Boolean)
})
const problemText = ({ problem: code, state: of }: FilePart) =>
  code ? words.problem({ code, message: code }) : t(`files.part.${of}`)
</script>

<template>
  <section class="card stack" aria-labelledby="file-one">
    <h2 id="file-one">{{ file.line.name }}</h2>
    <p>
      {{
        t(
          'files.changes',
          { count: words.number(counts.changes), reports: words.number(counts.reports) },
          counts.reports,
        )
      }}
    </p>
    <p v-for="one in notes" :key="one" class="quiet small">{{ one }}</p>
    <template v-if="state === 'ready' && counts.reports">
      <div class="field wide">
        <label for="file-why">{{ t('files.why') }}</label>
        <InputText
          id="file-why"
          v-model="why"
          :maxlength="LONGEST_SENTENCE"
          fluid
          :placeholder="t('files.whyHint')"
        />
      </div>
      <div>
        <Button
          :label="t('files.apply', { count: counts.reports }, counts.reports)"
          :disabled="why.trim().length < 2"
          :loading="busy"
          @click="apply"
        />
      </div>
    </template>
    <div v-else-if="state === 'applying' || state === 'undoing'" class="stack">
      <ProgressBar
        :value="Math.round((100 * handled) / Math.max(1, toHandle))"
        :aria-label="t(`files.is.${state}`)"
      />
      <div class="row">
        <span role="status"
          >{{ t(`files.is.${state}`) }}: {{ words.number(handled) }} / {{ words.number(toHandle) }}</span
        ><Button size="small" severity="secondary" outlined :label="t('act.stop')" @click="stop" />
      </div>
    </div>
    <div v-else-if="state === 'applied'" class="row">
      <span>{{ t('files.applied', { count: counts.done }, counts.done) }}</span><Button
        v-if="counts.done"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-undo"
        :label="t('files.undo')"
        :loading="busy"
        @click="asking = true"
      />
    </div>
    <p v-else-if="state === 'undone'">{{ t('files.undone', { count: counts.undone }, counts.undone) }}</p>
    <p v-else class="quiet">{{ t('files.nothing') }}</p>
    <ProblemNote :problem="problem" />
    <AskDialog
      v-model:visible="asking"
      :title="t('files.undo')"
      :act="t('files.undo')"
      :busy="busy"
      @go="undo"
      ><p>{{ t('files.undoSay') }}</p></AskDialog
    >
    <FileRefusals v-if="file.notes.refusedCount" :notes="file.notes" />
    <DataTable
      v-if="file.parts.length"
      :value="file.parts"
      :data-key="(one: FilePart) => one.round.id + one.unit.code"
      scrollable
      scroll-height="360px"
      :table-props="{ 'aria-label': t('files.parts') }"
    >
      <Column :header="t('board.facility')"
        ><template #body="{ data: one }"
          ><NuxtLink :to="facilityLink(one.round.id, one.unit.code)">{{ one.unit.name }}</NuxtLink></template
        ></Column
      >
      <Column :header="t('files.period')"
        ><template #body="{ data: one }">{{ words.period(one.round.period, 'short') }}</template></Column
      >
      <Column :header="t('files.place')"
        ><template #body="{ data: one }">{{ one.sheet }}, {{ one.row }}</template></Column
      >
      <Column :header="t('files.values')" class="number"
        ><template #body="{ data: one }">{{ words.number(one.changes) }}</template></Column
      >
      <Column :header="t('files.reportIs')"
        ><template #body="{ data: one }">{{ t(`state.${one.report}`) }}</template></Column
      >
      <Column :header="t('files.state')"
        ><template #body="{ data: one }"
          ><span :class="{ wrong: one.problem }">{{ problemText(one) }}</span></template
        ></Column
      >
    </DataTable>
  </section>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
