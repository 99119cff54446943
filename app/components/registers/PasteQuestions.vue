<script setup lang="ts">
import { guessQuestion, type GuessedQuestion } from '#core/define/guess-kind'
import { readPastedList } from '#core/define/paste-list'
import type { FormPart } from '#core/form/question'
import type { FormInWork, RegisterWork } from '~/define/useRegisterDraft'
import { placesOf } from '#core/define/form-parts'

/** Lines copied from a paper form become questions, with a kind guessed for each, in one screen to decide. */
const { work, form } = defineProps<{ work: RegisterWork; form: FormInWork }>()
const visible = defineModel<boolean>('visible', { required: true })
const { t, locale } = useI18n()
const text = ref('')
type Way = GuessedQuestion['kind'] | 'section' | 'leave'
const chosen = ref<Record<number, Way>>({})
const WAYS: Way[] = [
  'text',
  'wholeNumber',
  'decimal',
  'date',
  'partialDate',
  'time',
  'yesNo',
  'oneOf',
  'identifier',
  'picture',
  'position',
]
const lines = computed(() =>
  readPastedList(text.value, []).map(line => ({ ...line, guess: guessQuestion(line.label, locale.value) })),
)
const wayOf = (line: (typeof lines.value)[number]): Way =>
  chosen.value[line.line] ?? (line.heading ? 'section' : line.guess.kind)
const options = computed(() => [
  ...WAYS.map(value => ({ value, label: t(`kind.${value}`) })),
  { value: 'section' as const, label: t('draft.way.section') },
  { value: 'leave' as const, label: t('draft.way.leave') },
])
const count = computed(() => lines.value.filter(line => !['section', 'leave'].includes(wayOf(line))).length)

function add() {
  let section: string | null = null
  for (const line of lines.value) {
    const way = wayOf(line)
    if (way === 'leave') continue
    if (way === 'section') {
      section = work.addPart(form, 'section', line.label, null)
      continue
    }
    const code = work.addPart(form, way, line.guess.label, section)
    const place = placesOf(form.form.parts as FormPart[]).find(({ part }) => part.code === code)!
    if (place.part.kind === 'oneOf' && line.guess.choices)
      Object.assign(place.part, { choices: line.guess.choices })
  }
  text.value = ''
  chosen.value = {}
  visible.value = false
}
const shown = computed(() =>
  lines.value.map(one => ({
    line: one.line,
    name: one.heading ? one.label : one.guess.label,
    note: one.guess.choices?.map(({ label }) => Object.values(label)[0]).join(', ') ?? '',
    way: wayOf(one),
  })),
)
</script>

<template>
  <PasteLines
    v-model="text"
    v-model:visible="visible"
    input-id="pasted-questions"
    :title="t('question.paste')"
    :hint="t('question.pasteHint')"
    :head="t('question.label')"
    :lines="shown"
    :options="options"
    :act="t('question.addMany', { count }, count)"
    :can-add="lines.length > 0"
    @choose="(line, way) => (chosen[line] = way)"
    @add="add"
  />
</template>
