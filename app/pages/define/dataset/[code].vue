<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import { differences } from '#core/define/differences'
import type { Edition } from '#core/report/edition'

/**
 * One dataset while it is defined: its parts one at a time, the form on a phone beside them, and publishing.
 */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const code = computed(() => String(route.params.code))
const load = useLoad(
  () => callApi('GET /api/drafts/:dataset', { params: { dataset: code.value } }),
  () => code.value,
)
const tree = useLoad(ownUnits)
const lists = useLoad(() => callApi('GET /api/choice-lists', {}))
const groups = useLoad(() => callApi('GET /api/unit-groups', {}))
const units = useUnits(() => tree.data.value)
const work = useDraft(() => code.value, load)
const { draft, state, file } = work
const { part, chosen, choose } = useParts('items')
const pasting = ref(false)
const published = ref(0)
const beside = ref<'phone' | 'scan' | null>('phone')
const item = computed(() => work.items.value.find(one => one.code === chosen.value) ?? null)
const must = computed(() => file.value?.lacks.filter(({ weight }) => weight === 'must').length ?? 0)
const parts = computed(() =>
  ['items', 'axes', 'rules', 'indicators', 'cases', 'who', 'languages', 'exchange', 'publish'].map(key => ({
    key,
    label: t(`define.part.${key}`),
    ...(key === 'publish' && must.value && { mark: String(must.value) }),
  })),
)
const PART_OF: Record<string, string> = {
  items: 'items',
  axes: 'axes',
  rules: 'rules',
  indicators: 'indicators',
  caseCounts: 'cases',
}
/** Leads from what a draft lacks to where it is written. */
function lead(at: string) {
  const [kind, of] = at.split('/')
  void choose(of ?? null, PART_OF[kind ?? ''] ?? 'items')
}
const nameOf = (at: string) => {
  const [kind, of] = at.split('/')
  const list =
    kind === 'axes'
      ? draft.value!.axes
      : kind === 'rules'
        ? draft.value!.rules
        : kind === 'indicators'
          ? draft.value!.indicators
          : kind === 'caseCounts'
            ? (draft.value!.caseCounts ?? [])
            : work.items.value
  const found = list.find(one => one.code === of)
  return found ? words.say(found.name) || found.code : (of ?? '')
}
/**
 * The earliest open round that gets the new edition: all that are open, unless the officer says otherwise.
 */
const fromRound = ref<string | null>(null)
watch(
  () => file.value?.openRounds.at(-1)?.id,
  oldest => {
    fromRound.value = oldest ?? null
  },
  { immediate: true },
)
const roundChoices = computed(() => [
  ...[...file.value!.openRounds].reverse().map(({ id, period, dueAt }) => ({
    value: id as string | null,
    label: t('draft.fromRound', { period: words.period(period), due: words.dueDay(dueAt) }),
  })),
  { value: null, label: t('draft.fromNext') },
])
const publish = async () =>
  (
    await callApi('POST /api/drafts/:dataset/publish', {
      params: { dataset: code.value },
      body: { version: file.value!.version, from: fromRound.value },
    })
  ).number
async function done(number: number) {
  published.value = number
  await load.reload()
}
const readEdition = (number: string) =>
  callApi('GET /api/drafts/:dataset/editions/:number', {
    params: { dataset: code.value, number },
  }) as Promise<unknown> as Promise<Edition>
/** What I did as a dataset of its own, when somebody else's change is to stand. */
async function copy() {
  const next = codeFromLabel(`${code.value}_copy`, [code.value])
  await callApi('PUT /api/drafts/:dataset', {
    params: { dataset: next },
    body: {
      version: 0,
      draft: { ...draft.value!, dataset: next, number: 1 },
      reports: work.reports.value!,
    },
  })
  work.takeTheirs()
  await router.push(`/define/dataset/${next}`)
}
useKeys([
  { key: 'Alt ↑ ↓', says: 'keys.moveItem' },
  { key: 'Delete', says: 'keys.removeItem' },
])
</script>

<template>
  <DraftPage
    v-model:published="published"
    kind="dataset"
    :code="code"
    :title="draft ? words.say(draft.name) : ''"
    :load="load"
    :autosave="work"
    :changes="
      work.theirs.value && load.data.value ? differences(load.data.value.draft, work.theirs.value.draft) : []
    "
    :copy="copy"
  >
    <template #acts>
      <Button
        v-if="part === 'items'"
        severity="secondary"
        outlined
        icon="pi pi-clipboard"
        :label="t('draft.paste')"
        @click="pasting = true"
      />
    </template>
    <template v-if="draft && work.reports.value && file">
      <PartTabs v-model="part" :parts="parts" :label="t('define.parts')" />
      <ThreeColumns v-if="part === 'items'">
        <template #outline>
          <DraftOutline :work="work" :chosen="chosen" @choose="choose($event)" />
          <AddByName :label="t('draft.newSection')" @add="work.addSection($event)" />
        </template>
        <ItemForm
          v-if="item"
          :key="item.code"
          :model-value="item"
          :work="work"
          :lists="(lists.data.value ?? []).map(one => one.list)"
          @recoded="choose($event)"
        />
        <DatasetForm :work="work" />
        <template #beside>
          <div class="row">
            <Button
              v-for="one in ['phone', 'scan'] as const"
              :key="one"
              size="small"
              :severity="beside === one ? undefined : 'secondary'"
              :outlined="beside !== one"
              :label="t(`define.beside.${one}`)"
              :aria-pressed="beside === one"
              @click="beside = beside === one ? null : one"
            />
          </div>
          <TrialReport v-if="beside === 'phone'" :draft="draft" />
          <PaperScans v-else-if="beside === 'scan'" kind="dataset" :code="code" />
        </template>
      </ThreeColumns>
      <AxesPart v-else-if="part === 'axes'" :work="work" :chosen="chosen" @choose="choose($event)" />
      <RulesPart
        v-else-if="part === 'rules'"
        :work="work"
        :units="units"
        :dataset="code"
        :chosen="chosen"
        @choose="choose($event)"
      />
      <IndicatorsPart
        v-else-if="part === 'indicators'"
        :work="work"
        :dataset="code"
        :chosen="chosen"
        @choose="choose($event)"
      />
      <CaseCountsPart v-else-if="part === 'cases'" :work="work" :chosen="chosen" @choose="choose($event)" />
      <div v-else-if="part === 'who'" class="stack">
        <ReportingPart
          :work="work"
          :units="units"
          :levels="tree.data.value?.levels.map(words.say) ?? []"
          :groups="groups.data.value ?? []"
        />
        <ServicesPart
          v-if="tree.data.value"
          :work="work"
          :units="units"
          :dataset="code"
          :today="tree.data.value.day"
        />
      </div>
      <LanguagesPart v-else-if="part === 'languages'" :definition="draft" />
      <DatasetExchange v-else-if="part === 'exchange'" :definition="draft" />
      <div v-else class="stack">
        <DraftCheck
          :lacks="file.lacks"
          :differences="file.published ? file.differences : null"
          :number="draft.number"
          :ready="file.version > 0 && file.mine && state === 'saved'"
          :name-of="nameOf"
          :asked="t('draft.publishAsk', { count: file.reporting.all.count }, file.reporting.all.count)"
          :publish="publish"
          @choose="lead"
          @published="done"
        >
          <template v-if="file.published && file.openRounds.length" #asks>
            <PickOne
              v-model="fromRound"
              input-id="from-round"
              :label="t('draft.from')"
              :options="roundChoices"
            />
            <p class="small quiet">{{ t('draft.fromHint') }}</p>
          </template>
        </DraftCheck>
        <EditionsCompare
          v-if="file.published"
          :key="draft.number"
          :list="() => callApi('GET /api/drafts/:dataset/editions', { params: { dataset: code } })"
          :read="readEdition"
          :differ="differences"
        />
      </div>
    </template>
    <PasteList v-model:visible="pasting" :work="work" />
  </DraftPage>
</template>
