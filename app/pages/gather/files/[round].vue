<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { ReportFileLine } from '#core/contract/report-files'

/** Reports from files: the file to fill, a file looked at before it is taken in, and those that were. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const roundId = computed(() => String(route.params.round))
const { asked, ask } = useAsked(['file'])
const rounds = useLoad(() => callApi('GET /api/rounds', {}))
const round = computed(() => rounds.data.value?.find(({ id }) => id === roundId.value) ?? null)
const list = usePages((after: ReportFileLine | undefined) =>
  callApi('GET /api/report-files', { query: { after: after?.id } }),
)
const file = useLoad(
  async () =>
    asked.value.file ? callApi('GET /api/report-files/:id', { params: { id: asked.value.file } }) : null,
  () => asked.value.file,
)
/** Whose codes stand in a file of another system: of those that get reports of this dataset; ours by itself. */
const recipients = useLoad(
  async () =>
    session.district
      ? (
          await callApi('GET /api/district-reports/:round/sendings', {
            params: { round: roundId.value },
            query: { unit: session.district },
          })
        ).recipients
      : [],
  () => [roundId.value, session.district],
)
const codesOf = ref<string | null>(null)
const codeChoices = computed(() => [
  { value: null, label: t('files.codesOurs') },
  ...(recipients.data.value ?? []).map(({ id, name }) => ({ value: id, label: name })),
])
const { busy, problem, run } = useAct()

async function look(chosen: File) {
  await run(async () => {
    const base64 = await base64Of(chosen)
    const { line } = await callApi('POST /api/report-files', {
      body: {
        ...{ dataset: round.value!.dataset, round: roundId.value, name: chosen.name, base64 },
        language: words.locale.value === 'fr' ? 'fr' : 'en',
        ...(codesOf.value && { codesOf: codesOf.value }),
      },
    })
    await ask({ file: line.id })
    await list.reload()
  })
}
async function changed() {
  await Promise.all([file.reload(), list.reload()])
}
const templateUrl = (format: 'xlsx' | 'csv') =>
  `/api/rounds/${roundId.value}/template?${new URLSearchParams({
    format,
    language: words.locale.value === 'fr' ? 'fr' : 'en',
    ...(session.district && { unit: session.district }),
  })}`
/** What moves is looked at often. */
const MOVING_MS = 1_500
const isMoving = computed(() => ['applying', 'undoing'].includes(file.data.value?.line.state ?? ''))
useIntervalFn(() => isMoving.value && void file.reload(), MOVING_MS)
watch(isMoving, moves => {
  if (!moves) void list.reload()
})
const go = (other: string) => router.push(`/gather/files/${other}`)
</script>

<template>
  <div class="page">
    <LoadState v-slot="{ data: all }" :load="rounds" :empty="!round" :empty-text="t('files.noRound')">
      <PageHead :title="t('files.title')">
        <RoundPicker :round="round ?? all[0]!" @go="go" />
        <NuxtLink :to="`/gather/${roundId}`">{{ t('act.toBoard') }}</NuxtLink>
      </PageHead>
      <div class="stack">
        <section class="card stack" aria-labelledby="file-choose">
          <h2 id="file-choose">{{ t('files.choose') }}</h2>
          <p class="quiet">{{ t('files.say') }}</p>
          <div class="row">
            <FileButton
              input-id="report-file"
              icon="pi-upload"
              :label="t('files.pick')"
              accept=".xlsx,.csv,.txt,.xml,.json,text/csv"
              :disabled="busy"
              @file="look"
            />
            <a :href="templateUrl('xlsx')" download>{{ t('files.template', { format: 'XLSX' }) }}</a>
            <a :href="templateUrl('csv')" download>{{ t('files.template', { format: 'CSV' }) }}</a>
          </div>
          <PickOne
            v-if="codeChoices.length > 1"
            v-model="codesOf"
            input-id="file-codes"
            :label="t('files.codes')"
            :options="codeChoices"
          />
          <p v-if="busy" role="status" class="quiet">{{ t('files.reading') }}</p>
          <ProblemNote :problem="problem" />
        </section>
        <LoadState v-if="asked.file" v-slot="{ data }" :load="file">
          <ReportFileCard v-if="data" :key="data.line.id" :file="data" @changed="changed" />
        </LoadState>
        <section class="card stack" aria-labelledby="file-list">
          <h2 id="file-list">{{ t('files.earlier') }}</h2>
          <LoadState
            v-slot="{ data }"
            :load="list"
            :empty="list.data.value?.lines.length === 0"
            :empty-text="t('files.none')"
          >
            <ReportFileTable :lines="data.lines" @open="id => ask({ file: id })" />
            <ShowMore :more="data.more" @show="list.showMore()" />
          </LoadState>
        </section>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.row {
  gap: 18px;
}
</style>
