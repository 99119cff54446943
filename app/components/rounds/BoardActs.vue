<script setup lang="ts">
import { LONGEST_SENTENCE } from '#core/contract/wire'
import { isReceived } from '#core/report/state'
import { isClean } from '~/rounds/boardView'
import type { BoardWork } from '~/rounds/useBoard'

/** What is done with the selected reports of a round in one act, and what came of it. */
const { work, round } = defineProps<{ work: BoardWork; round: string }>()
const emit = defineEmits<{ changed: []; accepted: [units: { code: string; name: string }[]] }>()
const { t } = useWords()
const session = useSession()
const { busy, problem, run } = useAct()
const params = computed(() => ({ round }))
const clean = computed(() => work.selection.value.filter(isClean))
const received = computed(() => work.selection.value.filter(({ state }) => isReceived(state)))
const codes = (rows: { unit: { code: string } }[]) => rows.map(({ unit }) => unit.code)
/** Facilities whose report the district has not. */
const missing = computed(() => work.selection.value.filter(({ state }) => !isReceived(state)))
const reminding = ref(false)
/** Reminders that were asked for a moment ago, and can be stopped. */
const asked = shallowRef<string[]>([])
const asking = ref(false)
const why = ref('')

async function accept() {
  await run(async () => {
    const { accepted } = await callApi('POST /api/rounds/:round/accept', {
      params: params.value,
      body: { units: codes(clean.value) },
    })
    emit('accepted', accepted)
    work.unselect()
    emit('changed')
  })
}
async function sendBack() {
  const done = await run(() =>
    callApi('POST /api/rounds/:round/send-back', {
      params: params.value,
      body: { units: codes(received.value), why: why.value },
    }),
  )
  if (!done) return
  asking.value = false
  why.value = ''
  work.unselect()
  emit('changed')
}
function reminded(ids: string[]) {
  asked.value = ids
  work.unselect()
}
async function stopReminders() {
  const done = await run(() => callApi('POST /api/nudges/stop', { body: { ids: asked.value } }))
  if (done) asked.value = []
}
</script>

<template>
  <Message v-if="asked.length" severity="success" closable @close="asked = []"
    >{{ t('nudge.asked', { count: asked.length }, asked.length) }}
    <Button text size="small" icon="pi pi-undo" :label="t('act.undo')" @click="stopReminders" />
    <NuxtLink to="/gather/nudges">{{ t('nudge.log') }}</NuxtLink></Message
  >
  <div v-if="work.selection.value.length" class="bar" role="region" :aria-label="t('boardActs.title')">
    <strong>{{
      t('boardActs.selected', { count: work.selection.value.length }, work.selection.value.length)
    }}</strong>
    <Button
      v-if="session.can('resolve')"
      size="small"
      :disabled="!clean.length"
      :loading="busy"
      :label="t('boardActs.accept', { count: clean.length }, clean.length)"
      @click="accept"
    />
    <Button
      v-if="session.can('resolve')"
      size="small"
      severity="secondary"
      outlined
      :disabled="!received.length"
      :label="t('boardActs.sendBack', { count: received.length }, received.length)"
      @click="asking = true"
    />
    <Button
      v-if="session.can('nudge')"
      size="small"
      severity="secondary"
      outlined
      icon="pi pi-send"
      :disabled="!missing.length"
      :label="t('boardActs.remind', { count: missing.length }, missing.length)"
      @click="reminding = true"
    />
    <Button
      size="small"
      severity="secondary"
      text
      :label="t('boardActs.unselect')"
      @click="work.unselect()"
    />
    <ProblemNote :problem="asking ? null : problem" />
    <NudgeDialog
      v-if="reminding"
      v-model:visible="reminding"
      :round="round"
      :units="codes(missing)"
      @asked="reminded"
    />
    <AskDialog
      v-model:visible="asking"
      :title="t('boardActs.sendBack', { count: received.length }, received.length)"
      :act="t('act.sendBack')"
      :busy="busy"
      :problem="problem"
      :disabled="why.trim().length < 2"
      @go="sendBack"
    >
      <div class="field">
        <label for="why-many">{{ t('report.whyBack') }}</label>
        <Textarea id="why-many" v-model="why" rows="2" :maxlength="LONGEST_SENTENCE" fluid />
      </div>
      <p class="quiet small">{{ t('boardActs.sendBackSay') }}</p>
    </AskDialog>
  </div>
</template>

<style scoped>
.bar {
  position: sticky;
  top: 56px;
  z-index: 4;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  padding: 8px 14px;
  margin-bottom: 10px;
  background: var(--plum-1);
  border: 1px solid var(--line);
  border-radius: 10px;
}
</style>
