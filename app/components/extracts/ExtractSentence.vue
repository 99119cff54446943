<script setup lang="ts">
import { EXTRACT_FORMATS, type ExtractDefinition, type ExtractSource } from '#core/contract/extracts'
import type { Vocabulary } from '#core/expression/vocabulary'
import { ROWS_OF } from '~/extracts/useExtractDraft'
import type { Units } from '~/units/useUnits'

/** What an extract takes, as a sentence with blanks: which rows, of what, from when to when, as which file. */
const { sources, units, vocabulary } = defineProps<{
  sources: readonly ExtractSource[]
  units: Units
  vocabulary: Vocabulary
}>()
const definition = defineModel<ExtractDefinition>('definition', { required: true })
const words = useWords()
const { t } = words

const source = computed(() => sources.find(({ of }) => of === definition.value.of))
const change = (more: Partial<ExtractDefinition>) => {
  definition.value = { ...definition.value, ...more }
}
const filter = <K extends keyof ExtractDefinition['filters']>(key: K) =>
  computed({
    get: () => definition.value.filters[key],
    set: value => {
      const { [key]: _before, ...others } = definition.value.filters
      change({ filters: { ...others, ...(value && { [key]: value }) } })
    },
  })
/** Only entries can be written as FHIR. */
const fitFormat = (next: ExtractDefinition): ExtractDefinition =>
  next.format === 'fhir' && next.rows !== 'entry' ? { ...next, format: 'csv' } : next
const rows = computed({
  get: () => definition.value.rows,
  set: value => {
    const { form: _form, ...others } = definition.value
    definition.value = fitFormat({ ...others, rows: value })
  },
})
const rowOptions = computed(() =>
  (source.value ? ROWS_OF[source.value.kind] : []).map(value => ({
    value,
    label: t(`extract.rows.${value}`),
  })),
)
const of = computed({
  get: () => definition.value.of,
  set: code => {
    const next = sources.find(one => one.of === code)!
    const { form: _form, ...others } = definition.value
    const fits = (ROWS_OF[next.kind] as readonly string[]).includes(others.rows)
    const { unit } = others.filters
    definition.value = fitFormat({
      ...others,
      of: code,
      rows: fits ? others.rows : ROWS_OF[next.kind][0],
      filters: unit ? { unit } : {},
    })
  },
})
const ofOptions = computed(() => sources.map(one => ({ value: one.of, label: words.say(one.name) })))
const form = computed({
  get: () => definition.value.form ?? null,
  set: code => {
    const { form: _form, ...others } = definition.value
    definition.value = { ...others, ...(code && { form: code }) }
  },
})
const formOptions = computed(() => [
  { value: null as string | null, label: t('extract.allForms') },
  ...(source.value?.forms ?? []).map(({ code, name }) => ({
    value: code as string | null,
    label: words.say(name),
  })),
])
const ofReports = computed(() => source.value?.kind === 'dataset')
const byOptions = computed(() =>
  (ofReports.value ? (['period', 'received'] as const) : (['happened', 'made', 'received'] as const)).map(
    value => ({ value, label: t(`extract.by.${value}`) }),
  ),
)
const by = computed({
  get: () => definition.value.filters.by ?? byOptions.value[0]!.value,
  set: value => change({ filters: { ...definition.value.filters, by: value } }),
})
const unit = filter('unit')
const unitCode = computed({ get: () => unit.value ?? null, set: code => (unit.value = code ?? undefined) })
const [from, to] = (['from', 'to'] as const).map(key => {
  const day = filter(key)
  return computed({ get: () => day.value ?? '', set: text => (day.value = text || undefined) })
}) as [WritableComputedRef<string>, WritableComputedRef<string>]
const caseState = filter('state')
const stateOptions = computed(() => [
  { value: null, label: t('caseLife.state.any') },
  ...(['open', 'closed'] as const).map(value => ({ value, label: t(`caseLife.state.${value}`) })),
])
const state = computed({
  get: () => caseState.value ?? null,
  set: value => (caseState.value = value ?? undefined),
})
const reportStates = filter('states')
const statesOptions = computed(() =>
  (['draft', 'sent', 'sentBack', 'accepted'] as const).map(value => ({ value, label: t(`state.${value}`) })),
)
const states = computed<string[]>({
  get: () => reportStates.value ?? ['sent', 'accepted'],
  set: value => (reportStates.value = value.length ? (value as typeof reportStates.value) : undefined),
})
const [person, device] = [filter('person'), filter('device')]
const where = filter('where')
const whereText = computed({
  get: () => where.value ?? '',
  set: text => (where.value = text.trim() ? text : undefined),
})
const narrowed = ref(Boolean(whereText.value))
const format = computed({ get: () => definition.value.format, set: value => change({ format: value }) })
const formatOptions = computed(() =>
  EXTRACT_FORMATS.filter(value => value !== 'fhir' || rows.value === 'entry').map(value => ({
    value,
    label: t(`extract.format.${value}`),
  })),
)
</script>

<template>
  <section class="card stack" :aria-label="t('extract.what')">
    <div class="fields">
      <PickOne v-model="rows" input-id="extract-rows" :label="t('extract.take')" :options="rowOptions" />
      <PickOne v-model="of" input-id="extract-of" :label="t('extract.of')" :options="ofOptions" />
      <PickOne
        v-if="definition.rows === 'entry'"
        v-model="form"
        input-id="extract-form"
        :label="t('extract.form')"
        :options="formOptions"
      />
      <div class="field">
        <label for="extract-unit">{{ t('caseList.unit') }}</label>
        <UnitPicker v-model="unitCode" :units="units" input-id="extract-unit" />
      </div>
      <PickOne v-model="by" input-id="extract-by" :label="t('extract.days')" :options="byOptions" />
      <DayRange v-model:from="from" v-model:to="to" input-id="extract-days" :label="t('extract.between')" />
      <PickMany
        v-if="ofReports"
        v-model="states"
        input-id="extract-states"
        :label="t('extract.states')"
        :options="statesOptions"
      />
      <PickOne
        v-else
        v-model="state"
        input-id="extract-state"
        :label="t('caseLife.state.label')"
        :options="stateOptions"
      />
      <MakerPicker v-model="person" input-id="extract-person" :label="t('extract.person')" kind="people" />
      <MakerPicker v-model="device" input-id="extract-device" :label="t('extract.device')" kind="devices" />
      <PickOne v-model="format" input-id="extract-format" :label="t('extract.as')" :options="formatOptions" />
    </div>
    <ExpressionField
      v-if="narrowed"
      v-model="whereText"
      input-id="extract-where"
      :label="t('extract.where')"
      :vocabulary="vocabulary"
      wanted="truth"
      parts
    />
    <div v-else>
      <Button size="small" text icon="pi pi-plus" :label="t('extract.addWhere')" @click="narrowed = true" />
    </div>
  </section>
</template>
