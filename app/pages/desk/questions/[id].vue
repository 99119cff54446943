<script setup lang="ts">
import type { CorrectionDraft } from '~/components/discrepancies/CorrectionFields.vue'

/** One question: the conversation, the values to correct one touch away, the answer. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const route = useRoute()
const params = computed(() => ({ id: String(route.params.id) }))
const file = useLoad(() => callApi('GET /api/discrepancies/:id', { params: params.value }), () => params.value.id)
const text = ref('')
const corrections = ref<CorrectionDraft[] | null>([])
const { busy, problem, run } = useAct()
const { numbers } = useDoubtWords(() => ({
  item: code => file.data.value?.items[code]?.item.name,
  band: code => Object.values(file.data.value?.items ?? {}).map(({ bands }) => bands[code]).find(Boolean),
}))

async function answer() {
  await run(async () => {
    await callApi('POST /api/discrepancies/:id/answer', { params: params.value, body: { text: text.value, corrections: corrections.value ?? [] } })
    text.value = ''
    await file.reload()
  })
}
</script>

<template>
  <div>
    <DeskHead :title="file.data.value ? words.say(file.data.value.line.title) : t('place.questions')" back="/desk/questions">{{ file.data.value ? words.period(file.data.value.line.round.period) : '' }}</DeskHead>
    <main class="one">
      <LoadState v-slot="{ data }" :load="file">
        <section class="card stack">
          <p v-if="data.line.source === 'rule'">{{ words.say(data.forClerk) }}</p>
          <p><strong>{{ numbers(data.doubt) }}</strong></p>
        </section>
        <section class="card stack"><h2>{{ t('resolve.thread') }}</h2><ThreadView :thread="data.thread" /></section>
        <form v-if="data.line.state !== 'settled'" class="card stack" @submit.prevent="answer">
          <h2>{{ t('questions.values') }}</h2>
          <CorrectionFields :key="data.thread.length" v-model="corrections" :cells="data.cells" />
          <label for="answer-text">{{ t('questions.answer') }}</label>
          <Textarea id="answer-text" v-model="text" rows="3" fluid />
          <ProblemNote :problem="problem" />
          <Button type="submit" :label="corrections?.length ? t('questions.sendCorrected') : t('questions.send')" :disabled="text.trim().length < 2 || corrections === null" :loading="busy" />
        </form>
        <p v-else class="card"><WordTag tone="moss">{{ t(`outcome.${data.line.outcome}`) }}</WordTag></p>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.one { max-width: 720px; margin: 0 auto; padding: 14px; display: flex; flex-direction: column; gap: 12px; }
.one :deep(button[type='submit']) { min-height: 48px; }
</style>
