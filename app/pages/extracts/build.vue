<script setup lang="ts">
import type { ExtractPreview } from '#core/contract/extracts'
import { useExtractColumns } from '~/extracts/useExtractColumns'
import { newExtract, useExtractDraft } from '~/extracts/useExtractDraft'
import { useExtractFile } from '~/extracts/useExtractFile'
import { UNITS_HERE } from '~/units/useUnits'

/** An extract is put together: the file as it will be is the page. */
const words = useWords()
const { t } = words
const { asked, ask } = useAsked(['id'])
const id = computed(() => asked.value.id ?? null)
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { draft, isChanged, begin, settle, saved, forget } = useExtractDraft(() => id.value ?? 'new')

/** What can be taken, and the saved extract where one is opened. */
const start = useLoad(async () => {
  const [sources, { hasFolder, recipients }] = await Promise.all([
    callApi('GET /api/extract-sources', {}),
    callApi('GET /api/extracts', { query: {} }),
  ])
  const own = id.value ? await callApi('GET /api/extracts/:id', { params: { id: id.value } }) : null
  if (!draft.value && own) begin(own)
  else if (!draft.value && sources[0])
    begin(newExtract(sources[0], words.locale.value === 'fr' ? 'fr' : 'en'))
  return { sources, own, hasFolder, recipients }
})
const { definition, fields, vocabulary, labelOf, chosen, add, remove, ofSheet, setSheet, isWhole, preview } =
  useExtractColumns(draft, settle, () => start.data.value?.own?.definition ?? null)
const settings = computed(() => ({
  heads: (['short', 'path', 'label'] as const).map(value => ({ value, label: t(`extract.heads.${value}`) })),
  choices: (['label', 'code'] as const).map(value => ({ value, label: t(`extract.choices.${value}`) })),
  several: (['columns', 'list'] as const).map(value => ({ value, label: t(`extract.several.${value}`) })),
}))
const setting = <K extends 'heads' | 'choices' | 'several'>(key: K) =>
  computed({
    get: () => definition.value[key],
    set: value => (definition.value = { ...definition.value, [key]: value }),
  })
const [heads, choices, several] = [setting('heads'), setting('choices'), setting('several')]
const hasTables = computed(
  () => definition.value.rows !== 'cell' && fields.data.value?.fields.some(({ inTable }) => inTable !== null),
)
const tables = computed({
  get: () => definition.value.tables ?? 'columns',
  set: value => (definition.value = { ...definition.value, tables: value }),
})
const tableOptions = computed(() =>
  (['columns', 'sheets'] as const).map(value => ({ value, label: t(`extract.tables.${value}`) })),
)
const reasons = computed({
  get: () => definition.value.reasons,
  set: value => (definition.value = { ...definition.value, reasons: value }),
})

const making = useExtractFile()
const { busy, problem, run } = useAct()
const isMine = computed(() => start.data.value?.own?.mine ?? true)
const nameText = computed(() => draft.value?.name.trim() || t('extract.unnamed'))
/** Of a saved extract: only what came since this person last took it out. */
const onlyNew = ref(false)
const takeOut = () =>
  making.ask([
    {
      ...{ name: nameText.value, definition: definition.value },
      ...(draft.value!.id && { saved: draft.value!.id, onlyNew: onlyNew.value }),
    },
  ])
/** A preview with a condition counts within the first rows only. */
const isPart = (counted: ExtractPreview['counted']) => counted !== null && counted.read < counted.all
const counted = ({ read, all }: NonNullable<ExtractPreview['counted']>) => ({
  read: words.number(read),
  all: words.number(all),
})
async function save() {
  const { id: own, version, shared, repeats, onlyNew, recipient } = draft.value!
  const body = { name: nameText.value, definition: definition.value, shared, repeats, onlyNew, recipient }
  await run(async () => {
    const line =
      own && isMine.value
        ? await callApi('PUT /api/extracts/:id', { params: { id: own }, body: { ...body, version } })
        : await callApi('POST /api/extracts', {
            body: own ? { ...body, shared: false, repeats: null } : body,
          })
    saved(line)
    await ask({ id: line.id })
    await start.reload()
  })
}
async function discard() {
  forget()
  draft.value = null
  await start.reload()
  await fields.reload()
}
</script>

<template>
  <div class="page">
    <LoadState v-slot="{ data }" :load="start" :empty="!draft" :empty-text="t('extract.noSource')">
      <PageHead :title="draft!.name || t('extract.new')">
        <NuxtLink to="/extracts">{{ t('place.extracts') }}</NuxtLink>
        <span v-if="isChanged" class="quiet small" role="status">{{ t('extract.unsaved') }}</span>
        <template #acts>
          <Button v-if="isChanged" severity="secondary" text :label="t('extract.discard')" @click="discard" />
          <Button
            severity="secondary"
            outlined
            :loading="busy"
            :label="isMine ? t('act.save') : t('extract.saveOwn')"
            @click="save"
          />
          <Button
            icon="pi pi-download"
            :loading="making.busy.value"
            :disabled="!definition.columns.length || !isWhole"
            :label="t('extract.takeOut')"
            @click="takeOut"
          />
        </template>
      </PageHead>
      <div class="stack">
        <ProblemNote :problem="problem" />
        <ExtractFileNote :making="making" />
        <ExtractSentence
          v-model:definition="definition"
          :sources="data.sources"
          :units="units"
          :vocabulary="vocabulary"
        />
        <div class="sides">
          <LoadState v-slot="{ data: list }" :load="fields">
            <ExtractOutline v-if="list" :fields="list.fields" :chosen="chosen" @add="add" @remove="remove" />
          </LoadState>
          <div class="stack">
            <div class="fields">
              <div class="field wide">
                <label for="extract-name">{{ t('extract.name') }}</label>
                <InputText
                  id="extract-name"
                  v-model="draft!.name"
                  maxlength="80"
                  :placeholder="t('extract.unnamed')"
                />
              </div>
              <PickOne
                v-model="heads"
                input-id="extract-heads"
                :label="t('extract.headsAre')"
                :options="settings.heads"
              />
              <PickOne
                v-model="choices"
                input-id="extract-choices"
                :label="t('extract.choicesAre')"
                :options="settings.choices"
              />
              <PickOne
                v-model="several"
                input-id="extract-several"
                :label="t('extract.severalAre')"
                :options="settings.several"
              />
              <PickOne
                v-if="hasTables"
                v-model="tables"
                input-id="extract-tables"
                :label="t('extract.tablesAre')"
                :options="tableOptions"
              />
            </div>
            <div class="row">
              <label class="row"
                ><Checkbox v-model="reasons" binary input-id="extract-reasons" />
                {{ t('extract.reasons') }}</label
              >
              <label v-if="draft!.id" class="row"
                ><Checkbox v-model="onlyNew" binary input-id="extract-new-now" />
                {{ t('extract.onlyNewNow') }}</label
              >
              <label v-if="isMine" class="row"
                ><Checkbox v-model="draft!.shared" binary input-id="extract-shared" />
                {{ t('extract.share') }}</label
              >
            </div>
            <ExtractRepeats
              v-if="isMine && (data.hasFolder || data.recipients.length)"
              v-model:repeats="draft!.repeats"
              v-model:only-new="draft!.onlyNew"
              v-model:recipient="draft!.recipient"
              :has-folder="data.hasFolder"
              :recipients="data.recipients"
            />
            <ProblemNote :problem="preview.problem.value" />
            <p v-if="!definition.columns.length" class="quiet" role="status">{{ t('extract.noColumns') }}</p>
            <LoadState v-else v-slot="{ data: shown }" :load="preview">
              <template v-if="shown">
                <p class="count" role="status">
                  {{ t('extract.rowCount', { count: words.number(shown.count) }, shown.count)
                  }}<template v-if="isPart(shown.counted)">{{
                    t('extract.rowsRead', counted(shown.counted!))
                  }}</template>
                </p>
                <p v-for="gone in shown.leftOut" :key="gone.key" class="small bad">
                  {{ t(`extract.leftOut.${gone.why}`, { column: labelOf(gone.key) }) }}
                </p>
                <template v-for="sheet in shown.sheets" :key="sheet.name">
                  <h3 v-if="sheet.name">{{ t('extract.repeat', { name: sheet.name }) }}</h3>
                  <ExtractSheet
                    :sheet="sheet"
                    :columns="ofSheet(sheet)"
                    :label-of="labelOf"
                    @update:columns="setSheet(sheet, $event)"
                  />
                  <p v-if="!sheet.rows.length" class="quiet" role="status">{{ t('extract.noRows') }}</p>
                </template>
              </template>
            </LoadState>
          </div>
        </div>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 280px minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
@media (width < 900px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
.count {
  margin: 0;
}
</style>
