<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { VisitMove } from '#core/contract/visits'
import { printDay } from '#core/calendar/day'

/** Plans a visit to a facility, or says what became of one. */
const { unit, visit, to } = defineProps<{
  unit: { code: string; name: string }
  /** Its identifier; null plans a new one. */
  visit: string | null
  to: VisitMove['to']
}>()
const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ done: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
const { busy, problem, run } = useAct()
const today = printDay(words.today())
const blank = () => ({
  ...{ id: uuid(), day: to === 'made' ? today : '', text: '' },
  by: session.view?.person.displayName ?? '',
})
const draft = ref(blank())
watch(visible, on => {
  if (on) draft.value = blank()
})
const needsDay = computed(() => to !== 'dropped')
const needsText = computed(() => to === 'dropped')
const hasText = computed(() => visit === null || to !== 'planned')
const isGood = computed(() => {
  const { day, by, text } = draft.value
  if (needsDay.value && !day) return false
  if (to === 'made' && by.trim().length < 2) return false
  return text.trim().length >= 2 || (!needsText.value && !text.trim())
})
const moveOf = (): VisitMove => {
  const { day, by, text } = draft.value
  if (to === 'dropped') return { to, text }
  if (to === 'made') return { to, day, by, ...(text.trim() && { text }) }
  return { to, day }
}
async function save() {
  const { id, day, text } = draft.value
  const done = await run(() =>
    visit === null
      ? callApi('POST /api/visits', {
          body: { id, unit: unit.code, plannedFor: day, ...(text.trim() && { note: text }) },
        })
      : callApi('POST /api/visits/:id/move', { params: { id: visit }, body: moveOf() }),
  )
  if (!done) return
  visible.value = false
  emit('done')
}
const kind = computed(() => (visit === null ? 'plan' : to))
</script>

<template>
  <AskDialog
    v-model:visible="visible"
    :title="t(`visits.ask.${kind}`, { unit: unit.name })"
    :act="t(`visits.done.${kind}`)"
    :busy="busy"
    :problem="problem"
    :disabled="!isGood"
    @go="save"
  >
    <div class="stack">
      <div v-if="needsDay" class="field">
        <label for="visit-day">{{ t(to === 'made' ? 'visits.madeOn' : 'visits.plannedFor') }}</label>
        <DayField v-model="draft.day" input-id="visit-day" required />
      </div>
      <div v-if="to === 'made'" class="field">
        <label for="visit-by">{{ t('visits.madeBy') }}</label>
        <InputText id="visit-by" v-model="draft.by" :maxlength="100" fluid />
      </div>
      <div v-if="hasText" class="field">
        <label for="visit-text">{{ t(`visits.text.${kind}`) }}</label>
        <Textarea id="visit-text" v-model="draft.text" rows="3" :maxlength="LONGEST_SENTENCE" fluid />
      </div>
    </div>
  </AskDialog>
</template>
