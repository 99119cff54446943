<script setup lang="ts">
import type { CaseDoubtFile } from '#core/contract/case-doubts'
import type { DiscrepancyFile } from '#core/contract/discrepancies'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { CorrectionDraft } from './CorrectionFields.vue'

/**
 * The ways out of a discrepancy: correct, ask, accept the explanation, dismiss; and the way back from a
 * settled one. What a case says is corrected by a new entry of its facility, which closes the discrepancy.
 */
const { file } = defineProps<{ file: DiscrepancyFile | CaseDoubtFile }>()
const emit = defineEmits<{ done: [settled: boolean] }>()
const words = useWords()
const { t } = words
type Way = 'correct' | 'ask' | 'explained' | 'dismissed' | 'reopen'
const way = ref<Way | null>(null)
const text = ref('')
const corrections = ref<CorrectionDraft[] | null>([])
const { busy, problem, run } = useAct()
const field = useTemplateRef('field')
/** The report whose values can be corrected here. */
const ofReport = computed(() => ('cells' in file ? file : null))
const settled = computed(() => file.line.state === 'settled')
const answered = computed(
  () => file.thread.findLast(({ act }) => act === 'answered' || act === 'explained')?.text ?? '',
)

async function choose(next: Way) {
  if (settled.value !== (next === 'reopen') || (next === 'correct' && !ofReport.value)) return
  way.value = next
  problem.value = null
  text.value =
    next === 'explained'
      ? answered.value
      : next === 'correct' && !file.line.holds
        ? t('resolve.correctedByFacility')
        : ''
  await nextTick()
  ;(field.value as unknown as { $el: HTMLElement } | null)?.$el.focus()
}
useKeys([
  { key: 'C', says: 'keys.correct', run: () => void choose('correct') },
  { key: 'A', says: 'keys.ask', run: () => void choose('ask') },
  { key: 'E', says: 'keys.explained', run: () => void choose('explained') },
  { key: 'D', says: 'keys.dismiss', run: () => void choose('dismissed') },
])

const ready = computed(() => {
  if (text.value.trim().length < 2) return false
  return way.value !== 'correct' || !file.line.holds || (corrections.value?.length ?? 0) > 0
})

async function submit() {
  const chosen = way.value
  if (!chosen || !ready.value) return
  const params = { id: file.line.id }
  const done = await run(() =>
    chosen === 'ask' || chosen === 'reopen'
      ? callApi(`POST /api/discrepancies/:id/${chosen}`, { params, body: { text: text.value } })
      : callApi('POST /api/discrepancies/:id/settle', {
          params,
          body: {
            outcome: chosen === 'correct' ? 'corrected' : chosen,
            text: text.value,
            corrections: chosen === 'correct' ? (corrections.value ?? []) : [],
          },
        }),
  )
  if (!done) return
  way.value = null
  emit('done', chosen !== 'ask' && chosen !== 'reopen')
}
</script>

<template>
  <div class="card stack">
    <h3>{{ t('resolve.settleIt') }}</h3>
    <template v-if="settled">
      <p>
        <WordTag tone="moss">{{ t(`outcome.${file.line.outcome}`) }}</WordTag>
      </p>
      <div v-if="way !== 'reopen'">
        <Button
          severity="secondary"
          outlined
          icon="pi pi-undo"
          :label="t('resolve.do.reopen')"
          @click="choose('reopen')"
        />
      </div>
    </template>
    <template v-else>
      <Button v-if="ofReport" fluid @click="choose('correct')"
        ><span class="label">{{ file.line.holds ? t('resolve.correct') : t('resolve.asCorrected') }}</span
        >{{ ' ' }} <kbd>C</kbd></Button
      >
      <Button fluid severity="secondary" outlined @click="choose('ask')"
        ><span class="label">{{ t('resolve.ask') }}</span> <kbd>A</kbd></Button
      >
      <Button fluid severity="secondary" outlined @click="choose('explained')"
        ><span class="label">{{ t('resolve.explained') }}</span> <kbd>E</kbd></Button
      >
      <Button fluid severity="secondary" text @click="choose('dismissed')"
        ><span class="label">{{ t('resolve.dismiss') }}</span> <kbd>D</kbd></Button
      >
    </template>
    <form v-if="way && settled === (way === 'reopen')" class="stack" @submit.prevent="submit">
      <p v-if="way === 'explained' && file.line.strength === 'mustFix'" class="warn">
        {{ t('resolve.explainsMustFix') }}
      </p>
      <CorrectionFields
        v-if="way === 'correct' && file.line.holds && ofReport"
        :key="file.line.id"
        v-model="corrections"
        :cells="ofReport.cells"
        :items="ofReport.items"
      />
      <label :for="`say-${way}`">{{ t(`resolve.say.${way}`) }}</label>
      <Textarea
        :id="`say-${way}`"
        ref="field"
        v-model="text"
        rows="3"
        :maxlength="LONGEST_SENTENCE"
        fluid
        @keydown.ctrl.enter="submit"
      />
      <FormEnd
        :problem="problem"
        :label="t(`resolve.do.${way}`)"
        :busy="busy"
        :disabled="!ready"
        @cancel="way = null"
      />
    </form>
    <p v-if="!settled" class="small quiet">{{ t('resolve.holdsFor') }}</p>
    <p v-if="!settled && !ofReport" class="small quiet">{{ t('caseDoubts.closesItself') }}</p>
  </div>
</template>

<style scoped>
.warn {
  color: var(--brick-7);
}
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
.label {
  flex: 1;
  text-align: left;
}
.stack {
  gap: 8px;
}
</style>
