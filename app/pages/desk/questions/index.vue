<script setup lang="ts">
/** What the district asks this facility. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const desk = useDesk()
const list = useLoad(
  () => cachedFetch('questions', () => callApi('GET /api/discrepancies', { query: {} })),
  () => desk.changes.value,
)
const asked = computed(() => list.data.value?.lines.filter(({ state }) => state === 'asked') ?? [])
/** Answers that are only on this device. */
const waits = useLoad(
  async () =>
    new Set(
      (await useDeskStore().changes.where('state', 'waiting')).flatMap(({ change }) =>
        change.kind === 'answer' ? [change.discrepancy] : [],
      ),
    ),
  () => desk.changes.value,
)
const others = computed(
  () => list.data.value?.lines.filter(({ state }) => state === 'answered' || state === 'settled') ?? [],
)
</script>

<template>
  <div>
    <DeskHead :title="t('place.questions')">{{
      t('questions.open', { count: asked.length }, asked.length)
    }}</DeskHead>
    <main class="list">
      <LoadState :load="list" :empty="!asked.length && !others.length" :empty-text="t('questions.none')">
        <NuxtLink
          v-for="line in [...asked, ...others]"
          :key="line.id"
          :to="`/desk/questions/${line.id}`"
          class="card line"
        >
          <span class="spread"
            ><strong>{{ words.say(line.title) }}</strong
            ><WordTag v-if="waits.data.value?.has(line.id)" tone="amber">{{ t('cases.waiting') }}</WordTag
            ><WordTag
              v-else
              :tone="line.state === 'asked' ? 'amber' : line.state === 'settled' ? 'moss' : 'dusk'"
              >{{ t(`discrepancy.${line.state}`) }}</WordTag
            ></span
          >
          <span class="small quiet"
            >{{ words.say(line.round.name) }}, {{ words.period(line.round.period) }}</span
          >
        </NuxtLink>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.list {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.line {
  color: inherit;
  text-decoration: none;
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-height: 60px;
}
</style>
