<script setup lang="ts">
import { roundToOpen } from '#core/calendar/round-to-open'

/** Goes to the newest round; who sees only cases, to them. */
const words = useWords()
const { t } = words
const router = useRouter()
const session = useSession()
const rounds = useLoad(() => callApi('GET /api/rounds', {}))
watch(
  () => rounds.data.value,
  list => {
    const round = roundToOpen(list ?? [], words.today())
    if (round) void router.replace(`/gather/${round.id}`)
    else if (list && session.isLimited) void router.replace('/cases')
  },
)
</script>

<template>
  <div class="page">
    <PageHead :title="t('place.gather')" />
    <LoadState :load="rounds" :empty="rounds.data.value?.length === 0" :empty-text="t('today.empty')" />
  </div>
</template>
