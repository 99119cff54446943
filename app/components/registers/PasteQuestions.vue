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
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="t('question.paste')" :style="{ width: '860px' }">
    <div class="stack">
      <label for="pasted-questions">{{ t('question.pasteHint') }}</label>
      <Textarea id="pasted-questions" v-model="text" rows="6" autofocus fluid />
      <table v-if="lines.length">
        <thead>
          <tr>
            <th scope="col">{{ t('question.label') }}</th>
            <th scope="col">{{ t('draft.becomes') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in lines" :key="line.line">
            <td>
              {{ line.heading ? line.label : line.guess.label }}
              <span v-if="line.guess.choices" class="small quiet">{{
                line.guess.choices.map(one => Object.values(one.label)[0]).join(', ')
              }}</span>
            </td>
            <td>
              <PickOne
                :model-value="wayOf(line)"
                :input-id="`way-${line.line}`"
                :label="t('draft.becomesLine', { name: line.label })"
                label-hidden
                :options="options"
                @update:model-value="chosen[line.line] = $event"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button :label="t('question.addMany', { count }, count)" :disabled="!lines.length" @click="add" />
    </template>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: 13px;
  color: var(--ink-5);
}
td,
th {
  padding: 4px 6px;
  border-bottom: 1px solid var(--line);
}
td:last-child {
  width: 220px;
}
</style>
