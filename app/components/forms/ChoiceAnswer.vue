<script setup lang="ts">
import type { AnswerValue } from '#core/form/answer'
import type { Choice, QuestionOf } from '#core/form/question'

/** Yes or no, one of a list, or several: large enough to touch. A long list is searched. */
const { question, inputId, value, choices } = defineProps<{
  question: QuestionOf<'yesNo'> | QuestionOf<'oneOf'> | QuestionOf<'severalOf'>
  inputId: string
  value: AnswerValue | null
  choices: readonly Choice[]
}>()
const emit = defineEmits<{ give: [value: AnswerValue | null] }>()
const words = useWords()
const { t } = words
const LONG = 12
const options = computed(() =>
  question.kind === 'yesNo'
    ? [
        { value: 'yes', label: t('answer.yes') },
        { value: 'no', label: t('answer.no') },
      ]
    : choices.map(({ code, label }) => ({ value: code, label: words.say(label) || code })),
)
const chosen = computed(() =>
  typeof value === 'boolean'
    ? [value ? 'yes' : 'no']
    : Array.isArray(value)
      ? (value as readonly string[])
      : value === null
        ? []
        : [String(value)],
)
function choose(code: string) {
  if (question.kind === 'severalOf') {
    const next = chosen.value.includes(code)
      ? chosen.value.filter(one => one !== code)
      : [...chosen.value, code]
    emit('give', next.length ? next : null)
  }
  // A second touch takes the answer away again.
  else if (chosen.value.includes(code)) emit('give', null)
  else emit('give', question.kind === 'yesNo' ? code === 'yes' : code)
}
const one = computed<string | null>({ get: () => chosen.value[0] ?? null, set: next => emit('give', next) })
</script>

<template>
  <PickOne
    v-if="question.kind === 'oneOf' && options.length > LONG"
    v-model="one"
    :input-id="inputId"
    :label="words.say(question.label)"
    label-hidden
    :options="[{ value: null, label: '–' }, ...options]"
  />
  <p v-else-if="!options.length" class="small quiet">{{ t('filling.noChoices') }}</p>
  <div v-else class="choices" role="group" :aria-labelledby="`${inputId}-label`">
    <button
      v-for="option in options"
      :key="option.value"
      type="button"
      :aria-pressed="chosen.includes(option.value)"
      @click="choose(option.value)"
    >
      <i
        :class="[
          'pi',
          chosen.includes(option.value)
            ? question.kind === 'severalOf'
              ? 'pi-check-square'
              : 'pi-check-circle'
            : question.kind === 'severalOf'
              ? 'pi-stop'
              : 'pi-circle',
        ]"
        aria-hidden="true"
      />{{ option.label }}
    </button>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid color-mix(in srgb, var(--ink-5) 55%, var(--card));
  border-radius: 10px;
  background: var(--card);
  font: inherit;
  color: var(--ink-9);
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--plum-1);
  border-color: var(--plum-7);
  font-weight: 600;
}
</style>
