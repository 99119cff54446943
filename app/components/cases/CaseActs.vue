<script setup lang="ts">
import { parseDay, printDay } from '#core/calendar/day'
import { CASE_OUTCOMES, whyNot, type CaseAct, type CaseLife, type CaseOutcome } from '#core/cases/life'
import type { ApiProblem } from '~/common/useApi'
import type { Units } from '~/units/useUnits'

/** Gives a case to another facility, closes it, or opens it again: each is asked for in a dialog. */
const {
  life,
  lastOn,
  units,
  facilityLevel,
  save,
  busy = false,
  problem = null,
} = defineProps<{
  life: CaseLife
  /** The day of the last event, as 2026-10-05. */
  lastOn: string | null
  units: Units
  facilityLevel: number | undefined
  /** @returns whether it was saved: then the dialog closes */
  save: (act: CaseAct) => Promise<boolean>
  busy?: boolean
  problem?: ApiProblem | null
}>()
const words = useWords()
const { t } = words
const asked = ref<CaseAct['act'] | null>(null)
const given = reactive({
  to: null as string | null,
  always: false,
  day: '',
  outcome: 'completed' as CaseOutcome,
  text: '',
})
/** Something is missing, and somebody wanted to go on. */
const looking = ref(false)
const visible = openWhile(asked)
function begin(act: CaseAct['act']) {
  Object.assign(given, {
    to: null,
    always: false,
    day: printDay(words.today()),
    outcome: 'completed',
    text: '',
  })
  looking.value = false
  asked.value = act
}
const facilities = computed(() => openFacilities(units, facilityLevel, undefined))
const outcomes = computed(() =>
  CASE_OUTCOMES.map(value => ({ value, label: t(`caseLife.outcome.${value}`) })),
)
/** Two letters are the least that says anything. */
const hasText = computed(() => given.text.trim().length > 1)
const day = computed(() => {
  const read = parseDay(given.day)
  return read.ok && read.value <= words.today() ? given.day : null
})
/** The act, once everything is there. */
const act = computed<CaseAct | null>(() => {
  const text = given.text.trim()
  if (asked.value === 'move') {
    const since = given.always ? null : day.value
    return given.to && hasText.value && (given.always || since)
      ? { act: 'move', to: given.to, since, text }
      : null
  }
  if (asked.value === 'reopen') return hasText.value ? { act: 'reopen', text } : null
  const needsText = given.outcome === 'other'
  return day.value && (!needsText || hasText.value)
    ? { act: 'close', on: day.value, outcome: given.outcome, ...(hasText.value && { text }) }
    : null
})
const against = computed(() => (act.value ? whyNot(life, act.value, lastOn) : null))
async function go() {
  looking.value = true
  if (act.value && !against.value && (await save(act.value))) asked.value = null
}
const needsText = computed(() => asked.value !== 'close' || given.outcome === 'other')
</script>

<template>
  <p class="row no-print">
    <Button
      severity="secondary"
      outlined
      icon="pi pi-arrow-right-arrow-left"
      :label="t('caseLife.move')"
      @click="begin('move')"
    />
    <Button
      v-if="life.closed"
      severity="secondary"
      outlined
      icon="pi pi-folder-open"
      :label="t('caseLife.reopen')"
      @click="begin('reopen')"
    />
    <Button
      v-else
      severity="secondary"
      outlined
      icon="pi pi-folder"
      :label="t('caseLife.close')"
      @click="begin('close')"
    />
  </p>
  <AskDialog
    v-if="asked"
    v-model:visible="visible"
    :title="t(`caseLife.${asked}`)"
    :act="t(`caseLife.do.${asked}`)"
    :busy="busy"
    :problem="problem"
    @go="go"
  >
    <div class="stack">
      <p class="small quiet">{{ t(`caseLife.note.${asked}`) }}</p>
      <template v-if="asked === 'move'">
        <PickOne v-model="given.to" input-id="case-to" :label="t('caseLife.to')" :options="facilities" />
        <p v-if="looking && !given.to" class="wrong" role="alert">{{ t('caseLife.toMissing') }}</p>
        <label class="always"
          ><input v-model="given.always" type="checkbox" />{{ t('caseLife.always') }}</label
        >
      </template>
      <PickOne
        v-if="asked === 'close'"
        v-model="given.outcome"
        input-id="case-outcome"
        :label="t('caseLife.howEnded')"
        :options="outcomes"
      />
      <div v-if="asked === 'close' || (asked === 'move' && !given.always)" class="field">
        <label for="case-day">{{ t(asked === 'close' ? 'caseLife.on' : 'caseLife.since') }}</label>
        <DayField v-model="given.day" input-id="case-day" />
        <p v-if="looking && !day" class="wrong" role="alert">{{ t('caseLife.dayMissing') }}</p>
      </div>
      <div class="field">
        <label for="case-text">{{ t(needsText ? 'caseLife.why' : 'caseLife.remark') }}</label>
        <Textarea id="case-text" v-model="given.text" rows="2" maxlength="2000" fluid />
        <p v-if="looking && needsText && !hasText" class="wrong" role="alert">
          {{ t('caseLife.whyMissing') }}
        </p>
      </div>
      <p v-if="against" class="wrong" role="alert">{{ t(`problem.${against}`) }}</p>
    </div>
  </AskDialog>
</template>

<style scoped>
p {
  margin: 0;
}
.always {
  display: flex;
  gap: 10px;
  align-items: flex-start;
}
.wrong {
  color: var(--brick-7);
}
</style>
