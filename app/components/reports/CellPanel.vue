<script setup lang="ts">
import type { CellStory } from '#core/contract/reports'
import { LONGEST_REASON, LONGEST_SENTENCE } from '#core/contract/wire'
import type { CellContent } from '#core/report/cell'
import { wordsIn } from '#core/report/edition'
import type { ShownReport } from '~/reports/useReportEntry'

/**
 * Everything about the cell that the person is in: definition, usual range, history, comments, and the
 * answers that are no number.
 */
const {
  entry: report,
  cell,
  show,
} = defineProps<{
  entry: ShownReport
  cell: string
  show: 'history' | 'comment' | 'notKnown' | null
}>()
const emit = defineEmits<{ done: [] }>()
const entry = fillingOf(report)
const words = useWords()
const { t, locale } = words
const session = useSession()
const item = computed(() => report.cellByKey.get(cell)!.item)
const range = computed(() => report.rangeOf(cell))
const params = computed(() => ({ round: report.file.round.id, unit: report.file.unit.code, cell }))
const story = useLoad<CellStory>(
  () => callApi('GET /api/reports/:round/:unit/cells/:cell', { params: params.value }),
  () => [cell, entry?.outbox.state.value === 'received' && entry.outbox.at.value],
)

const REASONS = ['registerMissing', 'personAway', 'notRecorded'] as const
const reason = ref('')
const comment = ref('')
const { problem, run } = useAct()
const commentField = useTemplateRef('commentField')
const reasonField = useTemplateRef('reasonField')

watch(
  () => [show, cell],
  async () => {
    problem.value = null
    await nextTick()
    if (show === 'comment') (commentField.value as unknown as { $el: HTMLElement } | null)?.$el.focus()
    if (show === 'notKnown') (reasonField.value as unknown as { $el: HTMLElement } | null)?.$el.focus()
  },
  { immediate: true },
)

async function notKnown(why: string) {
  if (!why.trim()) return
  await entry?.put(cell, { kind: 'notKnown', reason: why.trim() })
  void entry?.outbox.flush()
  reason.value = ''
  emit('done')
}

async function writeComment() {
  await run(async () => {
    if (entry?.outbox.comment) await entry.outbox.comment(cell, comment.value)
    else
      await callApi('POST /api/reports/:round/:unit/cells/:cell/comments', {
        params: params.value,
        body: { text: comment.value },
      })
    comment.value = ''
    await story.reload()
  })
}

const { contentText: textOf, valueText } = useCellText()
const contentText = (content: CellContent) =>
  content.kind === 'notKnown' ? words.pair(t('cell.notKnown'), content.reason) : textOf(item.value, content)
const last = computed(() => report.lastValue(cell))
</script>

<template>
  <section class="panel" :aria-label="t('cell.about')">
    <h2>{{ report.nameOf(cell) }}</h2>
    <p class="small">{{ wordsIn(item.definition, locale) }}</p>
    <dl>
      <div>
        <dt>{{ t('cell.lastTime') }}</dt>
        <dd>{{ last === null ? '–' : valueText(item, last) }}</dd>
      </div>
      <div v-if="range">
        <dt>{{ t('cell.usually') }}</dt>
        <dd>{{ words.number(range.low) }}–{{ words.number(range.high) }}</dd>
      </div>
      <div>
        <dt>{{ t('cell.now') }}</dt>
        <dd>{{ contentText(report.contentOf(cell)) }}</dd>
      </div>
    </dl>

    <div v-if="show === 'notKnown'" class="stack">
      <h3>{{ t('cell.whyNotKnown') }}</h3>
      <div class="row">
        <Button
          v-for="one in REASONS"
          :key="one"
          size="small"
          severity="secondary"
          outlined
          :label="t(`reason.${one}`)"
          @click="notKnown(t(`reason.${one}`))"
        />
      </div>
      <InputText
        ref="reasonField"
        v-model="reason"
        :maxlength="LONGEST_REASON"
        fluid
        :aria-label="t('cell.whyNotKnown')"
        :placeholder="t('cell.inWords')"
        @keydown.enter="notKnown(reason)"
      />
    </div>

    <LoadState v-slot="{ data }" :load="story">
      <h3>{{ t('cell.history') }}</h3>
      <p v-if="!data.events.length" class="quiet small">{{ t('cell.noHistory') }}</p>
      <ol>
        <li v-for="(event, at) in data.events" :key="at">
          <strong>{{ contentText(event.old) }} → {{ contentText(event.new) }}</strong>
          <span class="quiet small"
            >{{ event.by }}, {{ words.moment(event.at) }} · {{ t(`origin.${event.origin}`) }}</span
          >
          <span v-if="event.why" class="small">{{ event.why }}</span>
        </li>
      </ol>
      <h3>{{ t('cell.comments') }}</h3>
      <p v-if="!data.comments.length" class="quiet small">{{ t('cell.noComments') }}</p>
      <ol>
        <li v-for="(note, at) in data.comments" :key="at">
          {{ note.text }} <span class="quiet small">{{ note.by }}, {{ words.moment(note.at) }}</span>
        </li>
      </ol>
    </LoadState>
    <form v-if="session.can('comment')" class="row" @submit.prevent="writeComment">
      <InputText
        ref="commentField"
        v-model="comment"
        :maxlength="LONGEST_SENTENCE"
        class="grow"
        :aria-label="t('cell.comment')"
        :placeholder="t('cell.comment')"
      />
      <Button
        type="submit"
        size="small"
        severity="secondary"
        outlined
        :label="t('act.write')"
        :disabled="comment.trim().length < 2"
      />
    </form>
    <ProblemNote :problem="problem" />
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
dl {
  margin: 0;
  display: flex;
  gap: 18px;
}
dt {
  font-size: 13px;
  color: var(--ink-5);
}
dd {
  margin: 0;
  font-weight: 600;
  font-size: 17px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
li {
  display: flex;
  flex-direction: column;
  border-left: 2px solid var(--line);
  padding-left: 10px;
}
.grow {
  flex: 1;
  min-width: 0;
}
</style>
