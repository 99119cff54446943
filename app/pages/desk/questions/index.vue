<script setup lang="ts">
import { useCaseQuestions } from '~/device/useQuestionAnswer'

/** What the district asks this facility. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const desk = useDesk()
const registersLoad = useLoad(deskRegisters, () => desk.changes.value)
const registers = computed(
  () => new Map((registersLoad.data.value ?? []).map(one => [one.register, one.definition])),
)
const list = useLoad(
  () => cachedFetch('questions', () => callApi('GET /api/discrepancies', { query: {} })),
  () => desk.changes.value,
)
const ofCases = useCaseQuestions()
/** Questions about reports and cases, each with what it is about. */
const questions = computed(() => [
  ...(list.data.value?.lines ?? []).map(line => ({
    ...line,
    to: `/desk/questions/${line.id}`,
    about: `${words.say(line.round.name)}, ${words.period(line.round.period)}`,
  })),
  ...(ofCases.data.value ?? []).map(({ line }) => ({
    ...line,
    to: `/desk/questions/case/${line.id}`,
    about: words.say(registers.value.get(line.case.register)?.name ?? {}),
  })),
])
const asked = computed(() => questions.value.filter(({ state }) => state === 'asked'))
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
const others = computed(() =>
  questions.value.filter(({ state }) => state === 'answered' || state === 'settled'),
)
</script>

<template>
  <div>
    <DeskHead :title="t('place.questions')">{{
      t('questions.open', { count: asked.length }, asked.length)
    }}</DeskHead>
    <main class="list">
      <LoadState :load="list" :empty="!asked.length && !others.length" :empty-text="t('questions.none')">
        <NuxtLink v-for="line in [...asked, ...others]" :key="line.id" :to="line.to" class="card line">
          <span class="spread"
            ><strong>{{ words.say(line.title) }}</strong
            ><WordTag v-if="waits.data.value?.has(line.id)" tone="amber">{{ t('cases.waiting') }}</WordTag
            ><WordTag
              v-else
              :tone="line.state === 'asked' ? 'amber' : line.state === 'settled' ? 'moss' : 'dusk'"
              >{{ t(`discrepancy.${line.state}`) }}</WordTag
            ></span
          >
          <span class="small quiet">{{ line.about }}</span>
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
