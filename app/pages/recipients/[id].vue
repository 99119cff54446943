<script setup lang="ts">
import { CODES_SHOW, type CodeLine } from '#core/contract/sending'

/** What a recipient calls our items, bands and facilities, dataset by dataset, and what is still missing. */
const words = useWords()
const { t } = words
const id = computed(() => String(useRoute().params.id))
const { asked, ask } = useAsked(['dataset', 'show', 'find'])
const recipients = useLoad(() => callApi('GET /api/recipients', {}))
const recipient = computed(() => recipients.data.value?.lines.find(one => one.id === id.value) ?? null)
const datasets = useLoad(() => callApi('GET /api/datasets', {}))
const options = computed(() =>
  (datasets.data.value ?? []).map(({ edition }) => ({
    value: edition.dataset,
    label: words.say(edition.name),
  })),
)
const dataset = computed({
  get: () => asked.value.dataset ?? options.value[0]?.value ?? '',
  set: code => void ask({ dataset: code }),
})
const show = computed({
  get: () => CODES_SHOW.find(one => one === asked.value.show) ?? 'all',
  set: one => void ask({ show: one === 'all' ? null : one }),
})
const find = useAskedText(
  () => asked.value.find,
  text => ask({ find: text }),
)
const codes = usePages(
  async (after: CodeLine | undefined) =>
    dataset.value
      ? callApi('GET /api/recipients/:id/codes', {
          params: { id: id.value },
          query: {
            ...{ dataset: dataset.value, show: show.value, find: asked.value.find },
            after: after && `${after.kind} ${after.ours}`,
          },
        })
      : { lines: [], more: false, counts: { all: 0, lacking: 0 } },
  () => `${id.value} ${dataset.value} ${show.value} ${asked.value.find}`,
)
const shows = computed(() =>
  CODES_SHOW.map(value => ({
    value,
    label: `${t(`codes.show.${value}`)} ${words.number(codes.data.value?.counts[value] ?? 0)}`,
  })),
)
/** Nothing is closed meanwhile: who leaves a field by a click means the click too. */
const { problem, run } = useAct()
const save = ({ kind, ours }: CodeLine, theirs: string | null | undefined) =>
  run(async () => {
    await callApi('POST /api/recipients/:id/codes', {
      params: { id: id.value },
      body: { dataset: dataset.value, codes: [{ kind, ours, theirs }] },
    })
    await codes.reload()
  })
const useOurs = () =>
  run(async () => {
    await callApi('POST /api/recipients/:id/codes/ours', {
      params: { id: id.value },
      body: { dataset: dataset.value },
    })
    await codes.reload()
  })
</script>

<template>
  <div class="page">
    <LoadState
      v-slot="{ data: all }"
      :load="recipients"
      :empty="!recipient"
      :empty-text="t('recipient.gone')"
    >
      <PageHead v-if="all" :title="t('codes.titleOf', { name: recipient!.name })">
        <PickOne
          v-if="options.length"
          v-model="dataset"
          input-id="codes-dataset"
          :label="t('round.dataset')"
          :options="options"
          label-hidden
        />
        <NuxtLink to="/recipients">{{ t('recipient.title') }}</NuxtLink>
      </PageHead>
      <div class="stack">
        <p class="quiet">{{ t('codes.hint') }}</p>
        <LoadState v-slot="{ data }" :load="codes">
          <Message v-if="data.counts.lacking" severity="warn" :closable="false">{{
            t('codes.lacking', { count: data.counts.lacking }, data.counts.lacking)
          }}</Message>
          <Message v-else-if="data.counts.all" severity="success" :closable="false">{{
            t('codes.complete')
          }}</Message>
          <FilterButtons v-model="show" :label="t('codes.title')" :options="shows">
            <InputText
              v-model="find"
              size="small"
              :placeholder="t('codes.find')"
              :aria-label="t('codes.find')"
              maxlength="100"
            /><Button
              v-if="data.counts.lacking"
              size="small"
              severity="secondary"
              outlined
              :label="t('codes.useOurs')"
              @click="useOurs"
            />
          </FilterButtons>
          <ProblemNote :problem="problem" />
          <CodeTable v-if="data.lines.length" :lines="data.lines" @save="save" />
          <p v-else class="quiet" role="status">{{ t('codes.none') }}</p>
          <ShowMore :more="data.more" @show="codes.showMore()" />
        </LoadState>
        <CodePaste v-if="dataset" :recipient="id" :dataset="dataset" @taken="codes.reload()" />
      </div>
    </LoadState>
  </div>
</template>
