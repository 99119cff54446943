<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { CorrectionDraft } from '~/components/discrepancies/CorrectionFields.vue'
import { deviceNow } from '~/common/useClock'

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
/** The answer that is only on this device, or that the district did not take. */
const own = useLoad(
  async () => (await useDeskStore().unsettled(questionPlace(params.value.id))).at(-1) ?? null,
  () => [params.value.id, desk.changes.value],
)
const text = ref('')
const corrections = ref<CorrectionDraft[] | null>([])
const busy = ref(false)
const { numbers } = useDoubtWords(() => ({
  item: (code, source) => file.data.value?.items[itemKey(code, source)]?.item,
  band: code =>
    Object.values(file.data.value?.items ?? {})
      .map(({ bands }) => bands[code])
      .find(Boolean),
}))

async function answer() {
  busy.value = true
  if (own.data.value) await useDeskStore().changes.remove('id', [own.data.value.id])
  await desk.saveAct(questionPlace(params.value.id), {
    kind: 'answer',
    id: uuid(),
    madeAt: new Date(deviceNow()).toISOString(),
    discrepancy: params.value.id,
    text: text.value,
    corrections: corrections.value ?? [],
  })
  text.value = ''
  await desk.sync()
  busy.value = false
}
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
        <section v-if="own.data.value?.change.kind === 'answer'" class="card stack" role="status">
          <WordTag :tone="own.data.value.state === 'waiting' ? 'amber' : 'brick'">{{
            t(own.data.value.state === 'waiting' ? 'cases.waiting' : 'cases.needsYou')
          }}</WordTag>
          <p>{{ own.data.value.change.text }}</p>
          <p v-if="own.data.value.state === 'needsYou'" role="alert" class="wrong">
            {{ words.problem({ code: own.data.value.why ?? 'server', message: '' }) }}
          </p>
        </section>
        <form
          v-if="data.line.state !== 'settled' && own.data.value?.state !== 'waiting'"
          class="card stack"
          @submit.prevent="answer"
        >
          <h2>{{ t('questions.values') }}</h2>
          <CorrectionFields
            :key="data.thread.length"
            v-model="corrections"
            :cells="data.cells"
            :items="data.items"
          />
          <label for="answer-text">{{ t('questions.answer') }}</label>
          <Textarea id="answer-text" v-model="text" rows="3" :maxlength="LONGEST_SENTENCE" fluid />
          <Button
            type="submit"
            :label="corrections?.length ? t('questions.sendCorrected') : t('questions.send')"
            :disabled="text.trim().length < 2 || corrections === null"
            :loading="busy"
          />
        </form>
        <p v-else-if="data.line.state === 'settled'" class="card">
          <WordTag tone="moss">{{ t(`outcome.${data.line.outcome}`) }}</WordTag>
        </p>
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

.wrong {
  color: var(--brick-7);
}
.one :deep(button[type='submit']) {
  min-height: 48px;
}
</style>
