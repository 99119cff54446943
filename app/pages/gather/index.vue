<script setup lang="ts">
/** Goes to the newest round. */
const { t } = useI18n()
const router = useRouter()
const rounds = useLoad(() => callApi('GET /api/rounds', {}))
watch(
  () => rounds.data.value,
  list => {
    if (list?.[0]) void router.replace(`/gather/${list[0].id}`)
  },
)
</script>

<template>
  <div class="page">
    <PageHead :title="t('place.gather')" />
    <LoadState :load="rounds" :empty="rounds.data.value?.length === 0" :empty-text="t('today.empty')" />
  </div>
</template>
