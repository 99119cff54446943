<script setup lang="ts">
import type { CorrectionDraft } from '~/components/discrepancies/CorrectionFields.vue'
import { namesOfFile } from '~/reports/useDoubtWords'

/** One question: the conversation, the values to correct one touch away, the answer. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const route = useRoute()
const params = computed(() => ({ id: String(route.params.id) }))
const desk = useDesk()
const file = useLoad(
  () =>
    cachedFetch(conversationKey(params.value.id), () =>
      callApi('GET /api/discrepancies/:id', { params: params.value }),
    ),
  () => [params.value.id, desk.changes.value],
)
const corrections = ref<CorrectionDraft[] | null>([])
const { numbers } = useDoubtWords(() => namesOfFile({ items: file.data.value?.items ?? {} }))
</script>

<template>
  <div>
    <DeskHead
      :title="file.data.value ? words.say(file.data.value.line.title) : t('place.questions')"
      back="/desk/questions"
      >{{ file.data.value ? words.period(file.data.value.line.round.period) : '' }}</DeskHead
    >
    <main class="one">
      <LoadState v-slot="{ data }" :load="file">
        <section class="card stack">
          <p v-if="data.line.source === 'rule'">{{ words.say(data.forClerk) }}</p>
          <p>
            <strong>{{ numbers(data.doubt) }}</strong>
          </p>
        </section>
        <section class="card stack">
          <h2>{{ t('resolve.thread') }}</h2>
          <ThreadView :thread="data.thread" />
        </section>
        <QuestionAnswer :line="data.line" :corrections="corrections">
          <h2>{{ t('questions.values') }}</h2>
          <CorrectionFields
            :key="data.thread.length"
            v-model="corrections"
            :cells="data.cells"
            :items="data.items"
          />
        </QuestionAnswer>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.one {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
