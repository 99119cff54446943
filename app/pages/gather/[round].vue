<script setup lang="ts">
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const roundId = computed(() => String(route.params.round))
const board = useLoad(
  () =>
    callApi('GET /api/rounds/:round/board', {
      params: { round: roundId.value },
      query: { unit: session.district ?? undefined },
    }),
  () => [roundId.value, session.district],
)
const toAccept = computed(
  () => board.data.value?.rows.filter(row => row.state === 'sent' && !row.blocking) ?? [],
)
const { busy, problem, run } = useAct()
const asking = ref(false)
/** So many names are listed before many reports are accepted at once. */
const NAMED = 12
/** What was accepted a moment ago, and can be taken back. */
const accepted = shallowRef<AnswerOf<'POST /api/rounds/:round/accept'>['accepted']>([])
watch(roundId, () => {
  accepted.value = []
})

function ask() {
  if (session.can('resolve') && toAccept.value.length) asking.value = true
}
async function accept() {
  await run(async () => {
    accepted.value = (
      await callApi('POST /api/rounds/:round/accept', {
        params: { round: roundId.value },
        body: { unit: session.district ?? undefined },
      })
    ).accepted
    await board.reload()
  })
  asking.value = false
}
async function undo() {
  await run(async () => {
    await callApi('POST /api/rounds/:round/undo-accept', {
      params: { round: roundId.value },
      body: { units: accepted.value.map(({ code }) => code) },
    })
    accepted.value = []
    await board.reload()
  })
}
useKeys([{ key: 'A', says: 'keys.acceptClean', run: ask }])
const go = (round: string) => router.push(`/gather/${round}`)
</script>

<template>
  <div class="page">
    <h1 v-if="!board.data.value" class="visually-hidden">{{ t('place.gather') }}</h1>
    <LoadState v-slot="{ data }" :load="board">
      <PageHead :title="words.say(data.round.name)">
        <RoundPicker :round="data.round" @go="go" />
        <NuxtLink to="/cases">{{ t('cases.title') }}</NuxtLink>
        <NuxtLink v-if="data.heldAgainstCases" :to="`/cases/against/${data.round.id}`">{{
          t('caseCounts.title')
        }}</NuxtLink>
        <template #acts>
          <Button v-if="session.can('resolve')" :disabled="!toAccept.length" :loading="busy" @click="ask">
            {{
              toAccept.length
                ? t('board.accept', { count: toAccept.length }, toAccept.length)
                : t('board.acceptNone')
            }}
            <kbd>A</kbd>
          </Button>
        </template>
      </PageHead>
      <ProblemNote :problem="problem" />
      <Message v-if="accepted.length" severity="success" closable @close="accepted = []"
        >{{ t('board.accepted', { count: accepted.length }, accepted.length) }}
        <Button text size="small" icon="pi pi-undo" :label="t('act.undo')" @click="undo"
      /></Message>
      <AskDialog
        v-model:visible="asking"
        :title="t('board.accept', { count: toAccept.length }, toAccept.length)"
        :act="t('board.acceptDo')"
        :busy="busy"
        @go="accept"
      >
        <p>{{ t('board.acceptAsk') }}</p>
        <p class="small">
          {{
            toAccept
              .slice(0, NAMED)
              .map(row => row.unit.name)
              .join(', ')
          }}<template v-if="toAccept.length > NAMED">
            {{ t('sign.more', { count: toAccept.length - NAMED }) }}</template
          >
        </p>
      </AskDialog>
      <RoundSummary :board="data" />
      <BoardTable
        v-if="data.rows.length"
        :board="data"
        @open="row => router.push(facilityLink(data.round.id, row.unit.code))"
      />
      <p v-else class="quiet">{{ t('board.empty') }}</p>
    </LoadState>
  </div>
</template>
