<script setup lang="ts">
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const session = useSession()
const roundId = computed(() => String(route.params.round))
const board = useLoad(() => callApi('GET /api/rounds/:round/board', { params: { round: roundId.value }, query: { unit: session.district ?? undefined } }), () => [roundId.value, session.district])
const toAccept = computed(() => board.data.value?.rows.filter(row => row.state === 'sent' && !row.mustFix && !row.explain).length ?? 0)
const { busy, problem, run } = useAct()

async function accept() {
  if (!session.can('resolve') || !toAccept.value) return
  await run(async () => {
    await callApi('POST /api/rounds/:round/accept', { params: { round: roundId.value }, body: { unit: session.district ?? undefined } })
    await board.reload()
  })
}
useKeys([{ key: 'A', says: 'keys.acceptClean', run: () => void accept() }])
const go = (round: string) => router.push(`/gather/${round}`)
</script>

<template>
  <div class="page">
    <h1 v-if="!board.data.value" class="heard-only">{{ t('place.gather') }}</h1>
    <LoadState v-slot="{ data }" :load="board">
      <PageHead :title="words.say(data.round.name)">
        <RoundPicker :round="data.round" :before="data.before" :after="data.after" @go="go" />
        <NuxtLink to="/cases">{{ t('cases.title') }}</NuxtLink>
        <template #acts>
          <Button v-if="session.can('resolve')" :disabled="!toAccept" :loading="busy" @click="accept">
            {{ toAccept ? t('board.accept', { count: toAccept }, toAccept) : t('board.acceptNone') }} <kbd>A</kbd>
          </Button>
        </template>
      </PageHead>
      <ProblemNote :problem="problem" />
      <RoundSummary :board="data" />
      <BoardTable v-if="data.rows.length" :board="data" @open="row => router.push(`/facility/${data.round.id}/${row.unit.code}`)" />
      <p v-else class="quiet">{{ t('board.empty') }}</p>
    </LoadState>
  </div>
</template>
