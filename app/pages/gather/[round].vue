<script setup lang="ts">
import { isClean } from '~/rounds/boardView'
import { useBoard } from '~/rounds/useBoard'

/** A round, facility by facility: who is in, who is late, and what is done about it. */
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
const work = useBoard(board)
const toAccept = computed(() => board.data.value?.rows.filter(isClean) ?? [])
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
useKeys([
  { key: 'A', says: 'keys.acceptClean', run: ask },
  { key: 'J', says: 'keys.nextReport', run: () => work.step(1) },
  { key: 'K', says: 'keys.reportBefore', run: () => work.step(-1) },
  { key: 'Escape', says: 'keys.closeReport', run: () => work.openUnit(null) },
])
const isSelectable = computed(() => session.can('resolve') || session.can('nudge'))
const isBeside = computed(() => work.open.value !== null)
const go = (round: string) => router.push(`/gather/${round}`)
</script>

<template>
  <div class="page">
    <h1 v-if="!board.data.value" class="visually-hidden">{{ t('place.gather') }}</h1>
    <LoadState v-slot="{ data }" :load="board">
      <PageHead :title="words.say(data.round.name)">
        <RoundPicker :round="data.round" @go="go" />
        <NuxtLink :to="`/gather/over-time/${data.round.id}`">{{ t('overTime.open') }}</NuxtLink>
        <NuxtLink :to="`/gather/map/${data.round.id}`">{{ t('roundMap.title') }}</NuxtLink>
        <NuxtLink v-if="session.can('enterPaper')" :to="`/gather/files/${data.round.id}`">{{
          t('files.title')
        }}</NuxtLink>
        <NuxtLink v-if="session.can('nudge')" to="/gather/nudges">{{ t('nudge.log') }}</NuxtLink>
        <NuxtLink v-if="session.can('visit')" to="/gather/visits">{{ t('visits.title') }}</NuxtLink>
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
      <p v-if="!data.rows.length" class="quiet">{{ t('board.empty') }}</p>
      <template v-else>
        <RoundSummary v-if="!isBeside" :board="data" />
        <BoardFilters :work="work" :count="data.rows.length" />
        <BoardActs
          v-if="isSelectable"
          :work="work"
          :round="data.round.id"
          @accepted="accepted = $event"
          @changed="board.reload()"
        />
        <BoardBeside v-if="isBeside" :work="work" :round="data.round.id" @changed="board.reload()" />
        <BoardTable
          v-else-if="work.rows.value.length"
          :board="data"
          :work="work"
          :selectable="isSelectable"
          @open="work.openUnit($event.unit.code)"
        />
        <p v-else class="quiet" role="status">{{ t('boardView.none') }}</p>
      </template>
    </LoadState>
  </div>
</template>
