<script setup lang="ts">
import type { ExtractFileLine, SavedExtract } from '#core/contract/extracts'
import { useExtractFile } from '~/extracts/useExtractFile'

/** Saved extracts, the files that were made, and the log of who took out what. */
const words = useWords()
const { t } = words
const session = useSession()
const SHOWS = ['saved', 'files', 'log'] as const
const { asked, ask } = useAsked(['show'])
const show = computed({
  get: () => SHOWS.find(one => one === asked.value.show) ?? 'saved',
  set: one => void ask({ show: one }),
})
const options = computed(() =>
  SHOWS.filter(one => one !== 'log' || session.can('seeOpenings')).map(value => ({
    value,
    label: t(`extract.show.${value}`),
  })),
)
const saved = usePages((after: SavedExtract | undefined) =>
  callApi('GET /api/extracts', { query: { after: after?.id } }),
)
const files = usePages(
  (after: ExtractFileLine | undefined) =>
    callApi('GET /api/extract-files', {
      query: { whose: show.value === 'log' ? 'all' : 'own', after: after?.id },
    }),
  () => show.value,
)
/** Those that go into one file. */
const ticked = ref<SavedExtract[]>([])
const making = useExtractFile()
const { problem, run } = useAct()
const takeOut = (extracts: readonly SavedExtract[]) =>
  making.ask(extracts.map(({ id, name, definition }) => ({ name, definition, saved: id })))
watch(making.file, () => void files.reload())
const removing = shallowRef<SavedExtract | null>(null)
const isRemoving = openWhile(removing)
async function remove() {
  const { id } = removing.value!
  if (!(await run(() => callApi('DELETE /api/extracts/:id', { params: { id } })))) return
  removing.value = null
  ticked.value = ticked.value.filter(one => one.id !== id)
  await saved.reload()
}
async function stop(id: string) {
  await run(() => callApi('POST /api/extract-files/:id/stop', { params: { id } }))
  await files.reload()
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('place.extracts')">
      <NuxtLink to="/extracts/dictionary">{{ t('dictionary.title') }}</NuxtLink>
      <template #acts
        ><Button
          v-if="ticked.length > 1"
          severity="secondary"
          outlined
          icon="pi pi-box"
          :loading="making.busy.value"
          :label="t('extract.together', { count: ticked.length })"
          @click="takeOut(ticked)" /><Button
          icon="pi pi-plus"
          :label="t('extract.new')"
          @click="navigateTo('/extracts/build')"
      /></template>
    </PageHead>
    <div class="stack">
      <ExtractFileNote :making="making" />
      <ProblemNote :problem="problem" />
      <FilterButtons v-model="show" :label="t('place.extracts')" :options="options" />
      <LoadState
        v-if="show === 'saved'"
        v-slot="{ data }"
        :load="saved"
        :empty="saved.data.value?.lines.length === 0"
        :empty-text="t('extract.noneSaved')"
      >
        <DataTable
          v-model:selection="ticked"
          :value="data.lines"
          data-key="id"
          :table-props="{ 'aria-label': t('extract.show.saved') }"
        >
          <Column selection-mode="multiple" header-style="width: 44px" />
          <Column :header="t('extract.name')"
            ><template #body="{ data: one }"
              ><NuxtLink :to="`/extracts/build?id=${one.id}`"
                ><strong>{{ one.name }}</strong></NuxtLink
              >
              <p class="small quiet">
                {{ t(`extract.rows.${one.definition.rows}`) }} · {{ one.definition.of }}
              </p></template
            ></Column
          >
          <Column :header="t('extract.whose')"
            ><template #body="{ data: one }"
              >{{ one.mine ? t('extract.mine') : one.by }}
              <WordTag v-if="one.shared" tone="dusk">{{ t('extract.shared') }}</WordTag></template
            ></Column
          >
          <Column v-if="data.hasFolder || data.recipients.length" :header="t('extract.repeats')"
            ><template #body="{ data: one }"
              ><template v-if="one.repeats"
                >{{ t(`extract.every.${one.repeats}`) }},
                {{
                  one.recipientName ? t('extract.to', { name: one.recipientName }) : t('extract.into')
                }}</template
              >
              <p v-if="one.repeats && one.nextAt" class="small quiet">
                {{ t('extract.nextAt', { at: words.moment(one.nextAt) }) }}
              </p>
              <p v-if="one.problem" class="small bad">
                {{ words.problem({ code: one.problem, message: one.problem }) }}
              </p></template
            ></Column
          >
          <Column :header="t('extract.changed')" class="day"
            ><template #body="{ data: one }">{{ words.moment(one.changedAt) }}</template></Column
          >
          <Column
            ><template #header
              ><span class="visually-hidden">{{ t('extract.takeOut') }}</span></template
            ><template #body="{ data: one }"
              ><span class="row"
                ><Button
                  size="small"
                  severity="secondary"
                  outlined
                  :label="t('extract.takeOut')"
                  :aria-label="t('extract.takeOutOf', { name: one.name })"
                  @click="takeOut([one as SavedExtract])" /><Button
                  v-if="one.mine"
                  size="small"
                  severity="secondary"
                  text
                  icon="pi pi-trash"
                  :aria-label="t('extract.removeSaved', { name: one.name })"
                  @click="removing = one as SavedExtract" /></span></template
          ></Column>
        </DataTable>
        <ShowMore :more="data.more" @show="saved.showMore()" />
      </LoadState>
      <LoadState
        v-else
        v-slot="{ data }"
        :load="files"
        :empty="files.data.value?.lines.length === 0"
        :empty-text="t('extract.noFiles')"
      >
        <ExtractFileTable :lines="data.lines" :label="t(`extract.show.${show}`)" @stop="stop" />
        <ShowMore :more="data.more" @show="files.showMore()" />
      </LoadState>
    </div>
    <AskDialog
      v-model:visible="isRemoving"
      :title="t('extract.removeSaved', { name: removing?.name ?? '' })"
      :act="t('extract.removeAct')"
      :problem="problem"
      @go="remove"
    >
      <p>{{ t('extract.removeSay') }}</p>
    </AskDialog>
  </div>
</template>
